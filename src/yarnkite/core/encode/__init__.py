"""Encode: chunks of the clip, joined without re-encoding, and what is read back of it."""
