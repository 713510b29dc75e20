"""Check: what is wrong in a shot, with the evidence in numbers, and what can be done about it."""
