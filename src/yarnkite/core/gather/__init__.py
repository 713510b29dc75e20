"""Gather: which files are stills, and what is learned about each in one reading."""
