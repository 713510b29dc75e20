"""Pixels: what files say, decoding, colour, resampling and warping. Imports only what everything rests on."""
