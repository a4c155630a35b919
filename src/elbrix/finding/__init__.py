"""Find by need: what in this shop meets it, proved before it is shown, and what to make when nothing does."""
