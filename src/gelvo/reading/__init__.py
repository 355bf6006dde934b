"""From text to expressions: the grammar file `formula.lark`, the reader, and the messages for faulty text."""
