"""The sums before shooting: how many stills, how far apart, for how long."""
