"""How often something begins anew: “every 2:00”, “each minute”."""

from itertools import pairwise

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.draft import Said

MINUTE_S = 60.0


def interval_of(said: Said) -> float:
    """Return how often something is done: “every 1:00”, “each minute”; 0 if it is not said."""
    for span in said.of(p.Span):
        if span.role in ("every", "emom"):
            return MINUTE_S if span.role == "emom" else span.seconds
    tokens = said.sentence.tokens
    each = any(a.low in ("every", "each") and b.low in ("minute", "min") for a, b in pairwise(tokens))
    each = each or any(token.low.endswith(("every minute", "each minute")) for token in tokens)
    return MINUTE_S if each or said.cue("emom") else 0.0
