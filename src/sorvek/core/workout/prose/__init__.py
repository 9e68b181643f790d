"""Announcements as organisers publish them: prose, lists, tables and headings, read into notation."""

from sorvek.core.workout.prose.reading import Fate, Passage, Question, Reading, read_prose

__all__ = ["Fate", "Passage", "Question", "Reading", "read_prose"]
