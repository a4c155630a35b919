"""What is asked for and what was given: parameters, values, and the groups they are shown in."""
