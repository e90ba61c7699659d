"""Schemas of requests and answers, a file for each file of routes.

Musical time is a string of an exact fraction of a quarter note.
"""
