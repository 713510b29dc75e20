"""Formats as objects, one family a module: what they are made of, who takes them, how they are encoded and verified."""
