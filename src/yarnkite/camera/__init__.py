"""Cameras that take stills for the program: the small interface they share, and the cameras."""
