"""Inspections: where to touch, what the readings mean, what the hands do next. Pure functions of values, readings and shop."""
