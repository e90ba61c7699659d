"""Middleware, from the outside inward."""
