"""Accounts, sections, sign-in."""
