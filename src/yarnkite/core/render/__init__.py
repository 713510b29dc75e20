"""Render: all decisions put together as a recipe, and the picture of each frame."""
