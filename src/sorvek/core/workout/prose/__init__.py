"""Announcements as organisers publish them: prose, lists, tables and headings, read into notation."""

from sorvek.core.workout.prose.reading import read_announcement

__all__ = ["read_announcement"]
