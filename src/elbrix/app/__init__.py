"""The window: benches, plate, card, proof strip, paper. The only package that knows Qt."""
