"""Fit: how a still's shape becomes the video's."""
