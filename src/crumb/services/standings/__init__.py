"""Where students stand."""
