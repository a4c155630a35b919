"""Ask as a bench calculator: arithmetic with units, triangles, dials and dividing, one line after another."""
