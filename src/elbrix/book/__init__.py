"""The workshop book: one file that keeps everything as it happens, with undo that survives a restart."""
