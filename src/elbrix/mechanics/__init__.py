"""Rules of strength and fit that design, holding and the answers share: one rule, one place."""
