"""What a person can do, a module a step, for the pages and the command line alike."""
