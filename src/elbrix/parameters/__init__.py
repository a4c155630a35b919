"""What is asked for and what was given: parameters, values, and where each value came from."""
