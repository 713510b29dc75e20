"""Order: by what the stills follow each other, what breaks that, names and shot lists."""
