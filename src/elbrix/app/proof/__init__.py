"""The proof strip: one small bar per check, and why."""
