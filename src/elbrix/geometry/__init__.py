"""Plane shapes: outlines, areas, distances."""
