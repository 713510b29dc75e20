"""Measurements that print ratios; docs/bench.md says what they mean and keeps the figures."""
