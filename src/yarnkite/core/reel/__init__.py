"""Reel: several clips, titles and sounds in running order, as one video."""
