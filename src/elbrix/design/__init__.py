"""The family framework, and the families: from measured things to a design that says whether it holds."""
