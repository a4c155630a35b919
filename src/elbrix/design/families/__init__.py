"""One module (or package) per family, each with a `FAMILY`."""
