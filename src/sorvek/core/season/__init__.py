"""What results teach."""

from sorvek.core.season.learn import Kept, Lessons, learn, lessons_of, unlearn

__all__ = ["Kept", "Lessons", "learn", "lessons_of", "unlearn"]
