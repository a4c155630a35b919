"""Gauge blocks: sets and exact stacks."""
