"""Threads, drills, screws, fits, T-slots, materials: data files with their source, and typed look-ups."""
