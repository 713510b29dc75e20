"""What decisions make of a shot or a reel as the database has it: slots, evening, steadying, findings, the recipe.

Each module reads frozen snapshots of one state, in one transaction, and computes when that has ended; what was computed
is cached by the state it is of.
"""
