"""Long trials of what must not break, as commands: `python -m campaigns NAME [--count N] [--seed N]`. Not part of the check."""
