"""A plan cut before there is metal: what its strokes take away, compared with the part that is wanted."""
