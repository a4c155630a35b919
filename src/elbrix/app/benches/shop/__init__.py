"""The shop bench."""
