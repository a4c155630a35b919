"""The card: numbered groups of numbers on paper, each told apart by where it came from."""
