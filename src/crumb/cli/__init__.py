"""The ``crumb`` command, one module for each verb."""

from crumb.cli.main import main

__all__ = ["main"]
