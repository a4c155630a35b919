"""Files of other programs: DXF, SVG and CSV, written and read."""
