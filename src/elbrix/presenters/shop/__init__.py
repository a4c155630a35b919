"""What the Shop bench shows."""
