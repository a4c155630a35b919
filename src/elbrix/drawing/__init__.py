"""Views, dimensions and sheets as plain values; DXF and SVG out of them. Knows no toolkit and no family."""
