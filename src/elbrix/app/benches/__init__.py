"""The benches, in the order a job runs. Each has a presenter (no widgets) and a view."""
