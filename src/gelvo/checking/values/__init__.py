"""Values of definite integrals by theorems of their own: what the checks of an integral without a proved antiderivative go through."""
