"""Long work in the background: thin tasks that call services."""
