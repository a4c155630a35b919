"""What every bench shows, as plain values: no widget, no Qt."""
