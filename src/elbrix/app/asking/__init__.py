"""The Ask field in the head line and its answer card."""
