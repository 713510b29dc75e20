"""The same work without a browser, a module a command, and the commands that start the program."""
