"""Tempo: ladders and the climb on them, burst tempo, seconds."""
