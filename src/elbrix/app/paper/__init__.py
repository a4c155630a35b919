"""What is printed: drawing sheet, route card, catalogue card, drawer label."""
