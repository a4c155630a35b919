"""One module for each kind of thing a shop has: its fields and limits, its name, its picture. A new thing is a new module."""
