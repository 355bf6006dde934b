"""What a formula is: nodes, canonical building, order, traversal, domains, text."""
