"""Movements: the library, the club's own numbers and movements."""
