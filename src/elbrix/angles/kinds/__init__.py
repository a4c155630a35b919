"""The kinds of angle setting, one module each."""
