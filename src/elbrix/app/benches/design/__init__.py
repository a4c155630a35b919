"""The design bench."""
