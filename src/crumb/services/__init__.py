"""Use cases: each loads, asks the core, stores, and owns its transaction."""
