"""The HTTP API."""
