"""Measuring instruments as they are listened to: lines of text over a local socket, and simulated ones that send them."""
