"""The decision on handed-in evidence: from the state before and the arrivals to what is stored."""
