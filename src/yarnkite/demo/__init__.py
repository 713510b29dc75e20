"""The made-up scenes, painted, so that there is something to make a clip of."""
