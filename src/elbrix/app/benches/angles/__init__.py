"""The Angles bench."""
