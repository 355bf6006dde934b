"""The rules of the search: each gives other forms of one part, none of which is believed before it was measured."""
