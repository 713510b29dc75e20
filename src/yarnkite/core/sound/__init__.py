"""Sound: what lies under a reel's picture, taken in, mixed, measured and brought to a length."""
