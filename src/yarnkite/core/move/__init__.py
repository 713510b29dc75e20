"""Move: a view that travels over the still while the clip runs."""
