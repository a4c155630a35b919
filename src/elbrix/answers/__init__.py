"""Shop questions in plain words, answered with their working: what the Ask field and `elbrix ask` share."""
