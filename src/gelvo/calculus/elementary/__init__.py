"""Elementary antiderivatives by decision: a tower of generators, and the equations that an antiderivative has to solve over it."""
