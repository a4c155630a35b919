"""The catalogue bench."""
