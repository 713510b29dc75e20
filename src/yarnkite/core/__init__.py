"""The rules and computation of the job: no web, no database, no threads of its own."""
