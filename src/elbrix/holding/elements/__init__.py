"""The kinds of things that hold work, one module each."""
