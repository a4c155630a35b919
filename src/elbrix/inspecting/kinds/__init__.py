"""Each inspection is one module with a `KIND`."""
