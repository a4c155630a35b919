"""Elbrix: workholding for the milling machine, from a measured slot to a proven fixture."""

__version__ = "0.1.0"
