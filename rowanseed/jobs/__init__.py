"""Long work outside the request: worker processes, progress, cancel."""
