"""The make bench."""
