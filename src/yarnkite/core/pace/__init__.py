"""Pace: which still, or which few, each frame of the clip shows."""
