"""Announcements as organisers publish them: prose, lists, tables and headings, read into notation."""

from sorvek.core.workout.prose.reading import Doubt, Fate, Mark, Reading, read_prose

__all__ = ["Doubt", "Fate", "Mark", "Reading", "read_prose"]
