"""Long work: what a job is, its progress, cancelling it, going on with it; runs on a standard Executor."""
