"""Invented music, people and history for the demonstration."""
