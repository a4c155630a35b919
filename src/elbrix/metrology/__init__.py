"""What readings say: planes, lines, circles, hole patterns, repeats, with what each is worth."""
