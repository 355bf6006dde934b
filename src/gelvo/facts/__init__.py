"""What holds in a call, and what follows from it for a formula."""
