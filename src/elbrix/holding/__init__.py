"""Will it stay put, can it be reached, is it located: contacts, clamps, cutting loads, and layouts on a table."""
