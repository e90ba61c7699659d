"""How parts are divided into chunks."""
