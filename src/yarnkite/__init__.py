"""Yarn Kite makes time-lapse clips from numbered still frames."""

__version__ = "0.1.0"
