"""The Hold bench."""
