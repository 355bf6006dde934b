"""The search for the shortest form, its families of equal forms, and the forms that a user asks for by name."""
