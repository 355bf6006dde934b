"""What follows for the sign of a formula: each rule asks the facts and answers with what the value may be."""
