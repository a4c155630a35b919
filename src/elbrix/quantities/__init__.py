"""Lengths, angles, thread and drill names as typed and shown; readings; working; checks. No Qt, no files."""
