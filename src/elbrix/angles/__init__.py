"""Sine settings, compound angles, Vs and dovetails over pins, circles and chords: pure functions, mm and radians."""
