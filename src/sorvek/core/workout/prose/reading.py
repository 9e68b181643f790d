"""An announcement as it is published, read into notation; every word of it is accounted for."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

from sorvek.core.errors import CoreError
from sorvek.core.workout import tree as w
from sorvek.core.workout.checks import check_length
from sorvek.core.workout.movements import Library, SizeKind
from sorvek.core.workout.notation import DEFAULT_DIVISIONS, parse_workout
from sorvek.core.workout.notation_print import doubt_text, workout_text
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Builder, Node, Said, folded, frozen, period, words_of
from sorvek.core.workout.prose.lines import Section, lines_of, sentences_of
from sorvek.core.workout.prose.sizes import Amount, division_at, fitting, sexed, size_of
from sorvek.core.workout.prose.tables import loads_of, tables_in
from sorvek.core.workout.prose.words import Kind, Token, tokenize

STANDARD_WORDS = set(
    "must may allowed permitted valid invalid touches touch touching lockout locked vertical fully extended extension"
    " hips hip knees knee elbows chin heels feet shoulders no-rep judge judges judged standing upright below parallel"
    " crease should cannot forbidden counted overhead-position behind faults".split()
)
SCORES = {"score", "result", "ranking", "tie", "ties", "points", "places", "submitted"}
GEAR_WORDS = set(
    "rope ropes bar barbell barbells dumbbell dumbbells kettlebell kettlebells box boxes ball mat plates rower pair".split()
)
GEAR_WORDS |= set(
    "people athletes places points euro lanes judges heats days weeks workouts events tests cameras".split()
)
WARMING = set(
    "warm-up warm briefing video submit submitted deadline film clip before arrive doors oclock pm am heat heats".split()
)
WARMING |= set(
    "monday tuesday wednesday thursday friday saturday sunday appeal appeals late lane lanes music stream".split()
)
LONGEST_DOUBT = 160


class Fate(StrEnum):
    """What became of words of the source."""

    USED = "used"
    NO_ACCOUNT = "no account"
    DOUBT = "doubt"


@dataclass(frozen=True, slots=True)
class Mark:
    """The source from `start` to `end` (characters) and its fate; `line` of the notation it went into, 0 for none."""

    start: int
    end: int
    fate: Fate
    line: int


@dataclass(frozen=True, slots=True)
class Doubt:
    """A line of the notation (from 1) that nobody should trust yet, and what is asked on it."""

    line: int
    words: str


@dataclass(frozen=True, slots=True)
class Reading:
    """Notation made from prose, what in it is in doubt, and the fate of every word of the source."""

    text: str
    doubts: tuple[Doubt, ...]
    marks: tuple[Mark, ...]


@dataclass(slots=True)
class _Facts:
    """What was found beside the work: the form and its time, amounts that stand apart, the lift, the tie-break."""

    form: w.Form = w.Form.UNKNOWN
    cap_s: float = 0.0
    tokens: list[Token] = field(default_factory=list)
    lift: p.Lift | None = None
    lift_s: float = 0.0
    lift_tokens: list[Token] = field(default_factory=list)
    divisions: tuple[str, ...] = DEFAULT_DIVISIONS
    asked: list[tuple[str, list[Token]]] = field(default_factory=list)
    used: list[Token] = field(default_factory=list)


def _said(tokens: Sequence[Token], text: str, library: Library) -> Iterator[Said]:
    """Yield the sentences of a text in order; the rows of a table are sentences that say loads."""
    lines = lines_of(tokens, text)
    tables = dict(tables_in(lines, text))
    tabled = {id(line) for start, end in tables.items() for line in lines[start:end]}
    rows = [Said(s, list(f)) for start, end in tables.items() for s, f in loads_of(lines[start:end], text, library)]
    plain = [line for line in lines if id(line) not in tabled]
    machines = {t.name for t in tokens if t.kind is Kind.MOVEMENT and library.movements[t.name].family == "machine"}
    machine = machines.pop() if len(machines) == 1 else ""
    prose = [Said(sentence, p.chunk(sentence.tokens, library, machine)) for sentence in sentences_of(plain)]
    yield from sorted([*prose, *rows], key=lambda said: said.sentence.line)


class _Reader:
    """Reads one announcement."""

    def __init__(self, text: str, library: Library) -> None:
        self.text = text
        self.library = library
        self.tokens = tokenize(text, library)
        self.said = list(_said(self.tokens, text, library))
        self.facts = _Facts()
        self.builder = Builder(library)
        self.title: Said | None = None

    def read(self) -> tuple[w.Workout, list[tuple[w.Block | None, list[Token]]]]:
        """Return the workout and the words every printed line came from."""
        self._take_title()
        self._bounds()
        self.builder.amrap = self.facts.form is w.Form.AMRAP
        self.builder.gaps_mean = self._gaps_mean()
        for number, said in enumerate(self.said):
            if said is self.title:
                continue
            if self._is_work(said) and not self._restated(said):
                self.builder.take(number, said)
            elif not said.used and self._listed(said):
                self.builder.take_doubt(number, said, said.text()[:LONGEST_DOUBT])
        self._lift()
        self._windows_and_stages()
        self._fold()
        self._tiebreaks()
        self._scaled()
        self._unread()
        self._lost()
        return self._workout()

    # What is what

    def _take_title(self) -> None:
        """Take the first line as the title if it names nothing."""
        for said in self.said[:1]:
            sentence = said.sentence
            plain = sentence.heading or (
                not said.of(p.Work) and not said.of(p.Series) and not said.of(p.Span) and not said.of(p.Rounds)
            )
            cues = any(token.cue("amrap", "for_time", "emom", "cap") for token in sentence.tokens)
            only = len(self.said) == 1 or self.said[1].sentence.line != sentence.line or bool(sentence.lead)
            numbered = (
                any(cue.name in ("part", "stage") and cue.number for cue in said.of(p.Cue)) and sentence.words <= 3
            )
            if plain and only and sentence.words <= 9 and not cues and not numbered:
                if not (said.of(p.Lift) and sentence.words > 6):
                    self.title = said
                    said.used = True

    def _is_work(self, said: Said) -> bool:
        sentence = said.sentence
        if sentence.section not in (Section.WORK, Section.CAP) or sentence.heading and not said.of(p.Range):
            return False
        works = said.of(p.Work)
        firm = [work for work in works if not work.pointed and (work.counts or self.builder.open)]
        if self._standard(said, firm) or _defines(said):
            return False
        structural = (
            said.of(p.Rounds) or said.of(p.Numbered) or said.of(p.Series) or said.of(p.Range) or said.of(p.Step)
        )
        rests = any(span.role in ("rest", "extend") for span in said.of(p.Span))
        cues = {cue.name for cue in said.of(p.Cue)} & {"etc", "until_missed", "remaining"}
        parts = any(cue.name in ("part", "stage") and cue.number for cue in said.of(p.Cue))
        if not (firm or structural or rests or cues or parts):
            return bool(works) and (_only_work(said) or said.cue("amrap"))
        if not firm and (SCORES & said.low() or said.cue("score")):
            return False
        return not (said.cue("tiebreak") and not firm)

    def _standard(self, said: Said, firm: Sequence[p.Work]) -> bool:
        """Return whether a sentence says how reps are done rather than which."""
        strong = STANDARD_WORDS & said.low()
        lists = len(firm) >= 2 or said.of(p.Rounds) or said.of(p.Series) or said.cue("amrap", "for_time")
        return bool(strong) and not lists and not (firm and self._short(said))

    def _short(self, said: Said) -> bool:
        return said.sentence.words <= 8

    def _restated(self, said: Said) -> bool:
        """Return whether a sentence only says again what was read before."""
        works = [work for work in said.of(p.Work) if work.counts]
        if not works or not (
            said.low()
            & {"athlete", "athletes", "you", "they", "competitor", "competitors", "she", "he", "move", "moves"}
        ):
            return False
        seen = self.builder.visits()
        row = [(work.movement, work.counts[0]) for work in works]
        if len(seen) < 2 or (said.cue("then", "again") and len(row) == 1 and said.sentence.tokens[0].cue("then")):
            return False
        again = any(seen[i : i + len(row)] == row for i in range(len(seen) - len(row) + 1))
        if again:
            self.facts.used += [token for work in works for token in said.tokens(work)]
            said.used = True
        return again

    def _gaps_mean(self) -> bool:
        """Return whether a blank line separates blocks, and does not just stand between all lines."""
        lines = [said.sentence for said in self.said if said.sentence.first and said.of(p.Work)]
        return not lines or sum(line.gap for line in lines[1:]) < max(1, 0.6 * (len(lines) - 1))

    # The form and its time

    def _bounds(self) -> None:
        """Find the form and its time."""
        usable = [
            s for s in self.said if s.sentence.section not in (Section.STANDARDS, Section.STORY, Section.SCALED)
        ]
        spans = [(said, span) for said in usable for span in said.of(p.Span)]
        amraps = [
            said
            for said in usable
            if said.cue("amrap") and not (SCORES & said.low() and said.sentence.section is not Section.WORK)
        ]
        timed = [said for said in usable if said.cue("for_time") and not said.cue("tiebreak") and not _denied(said)]
        caps = [(said, span) for said, span in spans if span.role == "cap"]
        paced = [
            s
            for s in usable
            for span in s.of(p.Span)
            if _each(s, span) and s.of(p.Rounds) and not s.cue("until_missed")
        ]
        if any(said.cue("emom") for said in usable) or (
            paced and not any(s.of(p.Step) or s.cue("until_missed") for s in usable)
        ):
            words = paced[0] if paced else next(said for said in usable if said.cue("emom"))
            self._ask(
                f"{words.text()[:LONGEST_DOUBT]}: work on the minute has no words in the notation yet",
                words.sentence.tokens,
            )
            return
        repeated = [(s, span) for s, span in spans if span.role == "every"]
        missed = [said for said in usable if said.cue("until_missed")]
        ranges = [(said, r) for said in usable for r in said.of(p.Range)]
        if repeated and (missed or any(s.of(p.Step) or s.cue("each_round") for s in usable)) and not amraps[:0]:
            said, span = repeated[0]
            self._form(w.Form.WINDOWS, span.seconds, said.tokens(span), missed[:1])
        elif (
            len(ranges) > 1
            and (missed or any(s.cue("if", "window") for s in usable))
            and not any(s.of(p.Lift) for s in usable)
        ):
            said, span_r = ranges[0]
            self._form(w.Form.WINDOWS, span_r.to_s - span_r.from_s, said.tokens(span_r), missed[:1])
        elif any(span.role == "extend" for _, span in spans) or self._numbered_stages(usable):
            self.facts.form = w.Form.STAGES
            early = [span for s, span in spans if span.role in ("", "every", "cap", "within", "amrap")]
            self.builder.first_s = early[0].seconds if early else 0.0
        elif amraps and not (timed and self._later(amraps, timed)):
            self._amrap(amraps[0], spans, ranges)
        elif timed or caps:
            self._for_time(timed, spans, caps)
        elif any(said.of(p.Lift) for said in usable) and not any(
            work.counts for s in usable for work in s.of(p.Work)
        ):
            self.facts.form = w.Form.LIFT
        else:
            self._for_time([], spans, [])

    def _numbered_stages(self, usable: Sequence[Said]) -> bool:
        return (
            sum(any(c.name == "stage" and c.number for c in s.of(p.Cue)) and bool(s.of(p.Span)) for s in usable) > 1
        )

    def _later(self, amraps: Sequence[Said], timed: Sequence[Said]) -> bool:
        """Return whether “as many” is only said of who does not finish."""
        scoring = all(SCORES & said.low() or said.cue("score", "if") for said in amraps)
        return scoring or self.said.index(timed[0]) < self.said.index(amraps[0])

    def _form(self, form: w.Form, cap_s: float, tokens: Sequence[Token], beside: Sequence[Said] = ()) -> None:
        self.facts.form, self.facts.cap_s = form, cap_s
        self.facts.tokens += tokens
        for said in beside:
            self.facts.tokens += [t for t in said.sentence.tokens if t.cue("until_missed")]

    def _amrap(
        self, said: Said, spans: Sequence[tuple[Said, p.Span]], ranges: Sequence[tuple[Said, p.Range]]
    ) -> None:
        cues = [token for token in (*said.sentence.lead, *said.sentence.tokens) if token.cue("amrap", "possible")]
        if ranges and not any(span.role == "amrap" for s, span in spans if s is said):
            at, found = ranges[0]
            self._form(w.Form.AMRAP, found.to_s - found.from_s, [*cues, *at.tokens(found)])
            return
        roles = ("amrap", "", "within", "every", "cap")
        own = [(s, span) for role in roles for s, span in spans if s is said and span.role == role]
        others = [
            (s, span)
            for role in ("amrap", "cap", "within", "every", "")
            for s, span in spans
            if s is not said and span.role == role
        ]
        others = [pair for pair in others if not pair[0].cue("lift", "tiebreak")]
        many = [s for s, span in spans if span.role == "amrap"]
        if len({span.seconds for _, span in spans if span.role == "amrap"}) > 1 or len(many) > 1:
            self._ask(
                "more than one AMRAP: the notation has words for one only",
                [t for s in many for t in s.sentence.tokens],
            )
        if not (own or others):
            self._ask("as many reps as possible, but in what time?", cues)
            return
        at, span = (own or others)[0]
        self._form(w.Form.AMRAP, span.seconds, [*cues, *at.tokens(span)])

    def _for_time(
        self, timed: Sequence[Said], spans: Sequence[tuple[Said, p.Span]], caps: Sequence[tuple[Said, p.Span]]
    ) -> None:
        cues = [
            token
            for said in timed[:1]
            for token in (*said.sentence.lead, *said.sentence.tokens)
            if token.cue("for_time")
        ]
        found = list(caps) or [
            (s, span) for s, span in spans if span.role == "within" and (not s.cue("if") or "not" in s.low())
        ]
        if not found:
            found = [(s, span) for s, span in spans if span.role in ("", "before", "every") and self._limits(s)]
        if not (timed or found):
            self._ask(
                "it is not said how the work is bounded: for time, or as many reps as possible in a time?", []
            )
            return
        last = max((span.seconds for _, span in found), default=0.0)
        if len({span.seconds for _, span in found}) > 1:
            self._ask(
                "more than one time cap: " + "; ".join(s.text()[:60] for s, _ in found),
                [t for s, x in found for t in s.tokens(x)],
            )
            for said, _ in found:
                said.used = True
        tokens = [token for s, span in found if span.seconds == last for token in s.tokens(span)]
        self._form(w.Form.FOR_TIME, last, [*cues, *tokens])

    def _limits(self, said: Said) -> bool:
        """Return whether a sentence with a bare time gives the time for the whole: “you have 14 minutes”."""
        if said.sentence.section is Section.CAP:
            return True
        have = {
            "set",
            "stop",
            "stopped",
            "over",
            "closed",
            "ends",
            "have",
            "has",
            "get",
            "given",
            "clock",
            "limit",
            "allowed",
            "finish",
            "finished",
            "complete",
            "stops",
            "deadline",
        }
        return (
            bool(have & said.low())
            and not said.cue("if", "tiebreak", "lift", "extend")
            and not {"warm", "briefing"} & said.low()
        )

    def _ask(self, words: str, tokens: Sequence[Token]) -> None:
        self.facts.asked.append((words, list(tokens)))

    # Afterwards

    def _lift(self) -> None:
        """Find the max lift and its window."""
        lifts = [
            (said, lift)
            for said in self.said
            for lift in said.of(p.Lift)
            if said.sentence.section in (Section.WORK, Section.SCORE, Section.CAP)
        ]
        main = [(said, lift) for said, lift in lifts if said is not self.title] or lifts
        timed = [(said, lift) for said, lift in main if said.of(p.Span) or said.of(p.Range)]
        if not main:
            return
        said, lift = (timed or main)[0]
        self.facts.lift, self.facts.lift_tokens = lift, said.tokens(lift)
        for other, again in lifts:
            other.used = True
            self.facts.used += other.tokens(again)
            if again.movement != lift.movement:
                self._ask(
                    f"{other.text()[:LONGEST_DOUBT]}: more than one lift; the notation has words for one",
                    other.tokens(again),
                )
        if lift.unsure:
            self._ask(
                f"{words_of(said.tokens(lift))}: {lift.unsure} has no words in the notation yet", said.tokens(lift)
            )
        seconds = self._lift_time(said, lift)
        if seconds:
            self.facts.lift_s = seconds[0]
            self.facts.lift_tokens += seconds[1]
        else:
            self._ask(f"{words_of(said.tokens(lift))}: in what time?", said.tokens(lift))

    def _lift_time(self, said: Said, lift: p.Lift) -> tuple[float, list[Token]] | None:
        for found in said.of(p.Range):
            return found.to_s - found.from_s, said.tokens(found)
        own = [span for span in said.of(p.Span) if span.role not in ("rest", "amrap")]
        if self.facts.form is w.Form.AMRAP and len(own) > 1:
            own = [span for span in own if span.seconds != self.facts.cap_s] or own
        until = [
            s
            for s in own
            if s.seconds > self.facts.cap_s > 0
            and s.lo
            and said.sentence.tokens[s.lo - 1].low in ("until", "till", "to")
        ]
        if until and self.facts.form is w.Form.AMRAP and said.sentence.tokens[until[0].lo].kind is Kind.CLOCK:
            return until[0].seconds - self.facts.cap_s, said.tokens(until[0])
        near = sorted(own, key=lambda span: abs(span.lo - lift.lo))
        if near:
            return near[0].seconds, said.tokens(near[0])
        if self.facts.form is w.Form.LIFT:
            spans = [
                (s, span) for s in self.said for span in s.of(p.Span) if span.role in ("", "cap", "within", "amrap")
            ]
            return (spans[0][1].seconds, spans[0][0].tokens(spans[0][1])) if spans else None
        before = self.said[: self.said.index(said)][-1:]
        for other in before:
            for span in other.of(p.Span):
                if span.seconds != self.facts.cap_s and not other.of(p.Work):
                    return span.seconds, other.tokens(span)
        return None

    def _windows_and_stages(self) -> None:
        """Put the work of windows into one ladder if it rises evenly, and the open ends of stages in order."""
        builder = self.builder
        windows = [node for node in builder.windows if any(True for _ in node.items())]
        if self.facts.form is not w.Form.WINDOWS:
            for node in builder.windows:
                builder.body += node.inner
            if self.facts.form is w.Form.STAGES:
                self._end_stages()
            return
        builder.windows = []
        if windows:
            builder.body = windows
        groups = [node.inner for node in windows] or [builder.body]
        step = next((step for _, step in builder.steps), None)
        ladder = next((n for n in builder.body if isinstance(n.block, w.Ladder) and not n.block.turns), None)
        if ladder is not None and len(builder.body) == 1:
            return
        rungs = [_flat(group) for group in groups]
        block = folded(rungs, step.step if step and not step.movements else 0) if rungs and all(rungs) else None
        if block is None and step is not None and len(rungs) == 1 and step.movements:
            block = _rise_some(rungs[0], step)
        if block is not None and (len(groups) > 1 or step is not None):
            extra = [t for node in windows for t in node.tokens] + [
                t for node in windows[1:] for n in node.items() for t in n.tokens
            ]
            extra += [t for s, x in builder.steps for t in s.tokens(x)]
            builder.body = [Node(extra, block, inner=list(groups[0]))]
            builder.steps = []
        elif not windows:
            builder.body = [Node([], w.Window(()), inner=builder.body)] if builder.body else []

    def _end_stages(self) -> None:
        """Give the last stage its cap, and stages without one a doubt."""
        for index, node in enumerate(self.builder.stages):
            if isinstance(node.block, w.Stage) and not node.block.cap_s:
                self.builder.body.append(
                    Node(node.tokens, w.Doubt(f"stage {index + 1}: by what time must it be done?"))
                )

    def _fold(self) -> None:
        """Fold rungs that are listed one after the other, or said to rise, into a ladder."""
        builder = self.builder
        if self.facts.form is not w.Form.AMRAP and not builder.steps:
            return
        lines = _tail_of(builder.body)
        if not lines or self.facts.form is w.Form.WINDOWS:
            if (
                builder.steps
                and self.facts.form is not w.Form.WINDOWS
                and not any(isinstance(n.block, w.Ladder) for n in builder.body)
            ):
                self._doubt_steps()
            return
        rungs = period(lines)
        said, step = builder.steps[0] if builder.steps else (None, None)
        if len(rungs) == 1 and step is None:
            return
        if step is not None and step.movements and len(rungs) == 1:
            block = _rise_some(rungs[0], step)
        else:
            block = folded(rungs, step.step if step else 0) if self.facts.form is w.Form.AMRAP else None
        if block is None or (len(rungs) < 3 and step is None and not builder.etc):
            if step is not None:
                self._doubt_steps()
            elif builder.etc and len(rungs) > 1:
                builder.doubt("it is not clear how the counts go on", lines[-1].tokens)
            return
        size = len(rungs[0])
        tokens = [t for node in lines[size:] for t in node.tokens] + (said.tokens(step) if said and step else [])
        at = builder.body.index(lines[0])
        builder.body[at : at + len(lines)] = [Node(tokens, block, inner=list(lines[:size]))]

    def _doubt_steps(self) -> None:
        for said, step in self.builder.steps:
            self.builder.doubt(
                f"{words_of(said.tokens(step))}: from which count, on which movement?", said.tokens(step)
            )

    def _tiebreaks(self) -> None:
        """Put the tie-break where the text says the clock is read."""
        for said in self.said:
            if (
                not (said.cue("tiebreak") or said.sentence.section is Section.TIE)
                or said.sentence.heading
                or self.title is said
            ):
                continue
            said.used = True
            if self.facts.form is w.Form.STAGES and (said.cue("stage", "part") or not said.of(p.Work)):
                continue
            if not self._tiebreak(said) and not self._no_tiebreak(said):
                self.builder.body.append(
                    Node(said.sentence.tokens, w.Doubt(f"{said.text()[:LONGEST_DOUBT]}: where is the tie-break?"))
                )

    def _no_tiebreak(self, said: Said) -> bool:
        """Return whether a sentence about ties places no clock: “there is no tie-break”, “ties stay ties”."""
        low = said.low()
        after = {
            "after",
            "when",
            "end",
            "completion",
            "once",
            "finish",
            "finishes",
            "every",
            "each",
            "behind",
            "following",
        }
        return bool({"no", "not", "none", "shared", "equal"} & low) or not (
            after & low or said.cue("every", "each_round")
        )

    def _tiebreak(self, said: Said) -> bool:
        """Read “after every set of double-unders”, “at the end of part one”, “after each round”, “after the row”."""
        builder = self.builder
        if (
            {"second", "third", "fourth", "last", "final"} & said.low()
            and said.cue("rounds")
            and not said.cue("each_round")
        ):
            return False
        works = said.of(p.Work)
        blocks = [
            node for node in builder.body if node.inner and isinstance(node.block, w.Rounds | w.Series | w.Ladder)
        ]
        parts = any(cue.name in ("part", "stage") for cue in said.of(p.Cue))
        names = [work.movement for work in works] or [
            t.name for t in said.sentence.tokens if t.kind is Kind.MOVEMENT
        ]
        items = [item for node in builder.body for item in node.items()]
        if names and not parts:
            found = [item for item in items if item.work and item.work.movement == names[-1]]
            counted = [
                item
                for item in found
                if works and works[-1].counts and item.work and item.work.counts == works[-1].counts
            ]
            ordinals = {"first": 0, "second": 1, "third": 2, "fourth": 3, "last": -1, "final": -1}
            nth = next((ordinals[word] for word in ordinals if word in said.low()), None)
            found = counted or found
            if nth is not None and not said.cue("each_round") and len(found) > 1:
                found = found[nth : nth + 1 or None]
            for item in found:
                item.tokens += said.tokens(works[-1]) if works else []
                item.block = w.TieBreak()
            return bool(found)
        rests = [i for i, node in enumerate(builder.body) if isinstance(node.block, w.Rest)]
        if parts or (rests and not said.cue("each_round", "rounds")):
            if rests:
                builder.body.insert(rests[0], Node(said.sentence.tokens, w.TieBreak()))
                return True
            if len(blocks) > 1:
                builder.body.insert(builder.body.index(blocks[0]) + 1, Node(said.sentence.tokens, w.TieBreak()))
                return True
            return False
        if said.cue("each_round", "rounds", "set"):
            target = blocks[0].inner if blocks else (builder.body if self.facts.form is w.Form.AMRAP else None)
            if target:
                target.append(Node(said.sentence.tokens, w.TieBreak()))
                return True
        return False

    def _scaled(self) -> None:
        """Say once that a scaled version is written and not read."""
        scaled = [said for said in self.said if said.sentence.section is Section.SCALED]
        works = [said for said in scaled if said.of(p.Work) or said.of(p.Loads)]
        for said in scaled:
            said.used = True
        if works:
            words = "; ".join(said.text() for said in works)[:LONGEST_DOUBT]
            tokens = [token for said in works for token in said.sentence.tokens]
            self.builder.body.append(Node(tokens, w.Doubt(f"a scaled version is not read: {words}")))

    def _unread(self) -> None:
        """Doubt what looks like work, load or time and was not used."""
        for said in self.said:
            if said.used or said.sentence.heading or said.sentence.section in (Section.STANDARDS, Section.STORY):
                continue
            reason = self._worrying(said)
            if reason:
                tokens = [*said.sentence.lead, *said.sentence.tokens]
                self.builder.body.append(Node(tokens, w.Doubt(said.text()[:LONGEST_DOUBT])))
                said.used = said.doubted = True

    def _lost(self) -> None:
        """Doubt counted work that is in no line of the notation and repeats none."""
        mine = {token.start for node in self._top() for row in _origins(node) for token in row[1]}
        seen = set(self.builder.visits())
        silent = (Section.STANDARDS, Section.STORY, Section.SCALED)
        for said in self.said:
            for work in said.of(p.Work):
                known = said.tokens(work)[0].start in mine or any(
                    (work.movement, count) in seen for count in work.counts
                )
                if (
                    work.counts
                    and not work.pointed
                    and not known
                    and not _defines(said)
                    and said.sentence.section not in silent
                    and not said.doubted
                ):
                    tokens = said.tokens(work)
                    self.builder.body.append(Node(tokens, w.Doubt(words_of(tokens))))

    def _top(self) -> list[Node]:
        return [*(self.builder.stages if self.facts.form is w.Form.STAGES else []), *self.builder.body]

    def _worrying(self, said: Said) -> bool:
        """Return whether a sentence that was not used may hold work, a load or a time."""
        low = said.low()
        works = [work for work in said.of(p.Work) if work.counts]
        if works and not STANDARD_WORDS & low and not _defines(said):
            seen = set(self.builder.visits())
            if any((work.movement, work.counts[0]) not in seen for work in works):
                return True
        if {"instead", "substitute", "substituted", "replace", "replaces", "swap"} & low and (
            said.of(p.Work) or said.cue("level")
        ):
            return True
        return self._strange_time(said)

    def _listed(self, said: Said) -> bool:
        """Return whether a line of a list begins with a count and is not understood."""
        sentence = said.sentence
        listed = sentence.words <= 9 and sentence.first and sentence.tokens[0].kind is Kind.NUMBER
        if (
            not listed
            or _defines(said)
            or sentence.heading
            or sentence.section is not Section.WORK
            or said.of(p.Span)
        ):
            return False
        return not said.low() & GEAR_WORDS and not said.cue("level") and not p.harmless(sentence.tokens, 0)

    def _strange_time(self, said: Said) -> bool:
        """Return whether a sentence names a time of the work that nothing was made of."""
        if said.sentence.section not in (Section.WORK, Section.CAP, Section.SCORE) or WARMING & said.low():
            return False
        known = {
            self.facts.cap_s,
            self.facts.lift_s,
            *(n.block.cap_s for n in self.builder.stages if isinstance(n.block, w.Stage)),
        }
        return any(span.seconds not in known for span in said.of(p.Span))

    # The tree

    def _workout(self) -> tuple[w.Workout, list[tuple[w.Block | None, list[Token]]]]:
        facts, builder = self.facts, self.builder
        top = self._top()
        loads = Sized(self.said, top, self.library)
        facts.divisions = loads.divisions
        item_of: dict[int, w.Block] = {}
        origin: list[tuple[w.Block | None, list[Token]]] = []
        for node in top:
            for item in node.items():
                item_of[id(item)] = loads.item(item)
        nodes = [Node(tokens, w.Doubt(words)) for words, tokens in facts.asked]
        form, comment = facts.form, ""
        if form is w.Form.UNKNOWN:
            asked = nodes.pop(0) if nodes else Node([], w.Doubt("it is not said how the work is bounded"))
            comment = asked.block.words if isinstance(asked.block, w.Doubt) else ""
            facts.tokens = asked.tokens
        top = [*nodes, *[node for node in (_kept(node) for node in top) if node is not None], *loads.unused()]
        body = tuple(frozen(node, item_of) for node in top)
        lift = None
        if facts.lift is not None and facts.lift_s:
            lift = w.MaxLift(facts.lift.movement, facts.lift_s)
        elif form is w.Form.LIFT:
            form, comment = w.Form.UNKNOWN, "a max lift, but in what time?"
        title = _name_of(self.title) if self.title else ""
        cap_s = lift.window_s if form is w.Form.LIFT and lift else facts.cap_s
        workout = w.Workout(title, facts.divisions, form, cap_s, body, lift, "", comment, self.library)
        origin += [(None, [*self.title.sentence.lead, *self.title.sentence.tokens])] if title and self.title else []
        origin += [(None, loads.division_tokens)] if facts.divisions != DEFAULT_DIVISIONS else []
        origin.append((None, [*facts.tokens, *(facts.lift_tokens if form is w.Form.LIFT else [])]))
        for node in top:
            origin += list(_origins(node))
        if lift is not None and form is not w.Form.LIFT:
            origin.append((None, facts.lift_tokens))
        self.loads = loads
        return workout, origin


def _denied(said: Said) -> bool:
    """Return whether “for time” is only said not to hold."""
    tokens = said.sentence.tokens
    return any(a.low == "not" and b.cue("for_time") for a, b in zip(tokens, tokens[1:], strict=False))


def _defines(said: Said) -> bool:
    """Return whether a sentence says what one rep is: “one shuttle run is one rep”."""
    works = [work for work in said.of(p.Work) if work.counts]
    return (
        bool(works)
        and all(work.counts == (1,) for work in works)
        and bool({"rep", "reps", "repetition"} & said.low())
    )


def _each(said: Said, span: p.Span) -> bool:
    """Return whether a time is told as “every 2:00”."""
    return span.role == "every" and span.lo > 0 and said.sentence.tokens[span.lo - 1].low in ("every", "each")


def _name_of(title: Said) -> str:
    tokens = title.sentence.tokens
    labelled = len(tokens) > 2 and tokens[0].low in ("name", "title") and tokens[1].mark(":-–")
    text = words_of(tokens[2:]) if labelled else title.text()
    return text.strip(" #*_`“”\"'=-–—:")


def _only_work(said: Said) -> bool:
    """Return whether a sentence is a bare line of a list, such as “Thrusters”."""
    return said.sentence.words <= 6 and isinstance(said.phrases[0], p.Work) and said.phrases[0].lo <= 1


def _kept(node: Node) -> Node | None:
    """Return a node without blocks that hold no work, None if nothing is left of it."""
    if node.work is not None or not isinstance(node.block, w.Rounds | w.Series | w.Ladder | w.Stage | w.Window):
        return node
    node.inner = [inner for inner in (_kept(inner) for inner in node.inner) if inner is not None]
    works = any(True for _ in node.items()) or any(isinstance(inner.block, w.Doubt) for inner in node.inner)
    return node if works else None


def _origins(node: Node) -> Iterator[tuple[w.Block | None, list[Token]]]:
    yield node.block, node.tokens
    if node.work is None:
        for inner in node.inner:
            yield from _origins(inner)


def _flat(group: Sequence[Node]) -> list[Node]:
    return [item for node in group for item in node.items()]


def _tail_of(body: Sequence[Node]) -> list[Node]:
    """Return the lines of work that follow each other at the top, the last row of them."""
    best: list[Node] = []
    row: list[Node] = []
    for node in body:
        if node.work is not None:
            row.append(node)
            best = row
        elif not isinstance(node.block, w.Doubt):
            row = []
    return best


def _rise_some(rung: Sequence[Node], step: p.Step) -> w.Ladder | None:
    """Return the ladder of the movements named, which rise beside others that do not."""
    risers = [
        n
        for n in rung
        if n.work and n.work.counts and any(_means(name, n.work.movement) for name in step.movements)
    ]
    counts = {n.work.counts[0] for n in risers if n.work}
    if len(counts) != 1 or len(risers) < len(step.movements):
        return None
    for node in risers:
        node.rising = True
    return w.Ladder(counts.pop(), step.step, (), ())


def _means(name: str, movement: str) -> bool:
    """Return whether a movement may be named so for short: the burpees of a “lateral burpee over dumbbell”."""
    short, full = name.replace("-", " ").split(), movement.replace("-", " ").split()
    return set(short) <= set(full) or short[-1] == full[-1]


class Sized:
    """Which amounts belong to which lines of work, and the divisions they name."""

    def __init__(self, said: Sequence[Said], nodes: Sequence[Node], library: Library) -> None:
        self.library = library
        self.words = [token for s in said for token in s.sentence.tokens]
        self.items = [item for node in nodes for item in node.items()]
        self.apart = [
            (s, load)
            for s in said
            for load in s.of(p.Loads)
            if not s.doubted and s.sentence.section not in (Section.SCALED, Section.STORY)
        ]
        mine = {id(item.work) for item in self.items}
        self.apart += [
            (s, p.Loads(work.lo, work.hi, work.sizes, (work.movement, *work.sizes.nouns)))
            for s in said
            for work in s.of(p.Work)
            if work.sizes and not work.counts and id(work) not in mine
        ]
        self.same = any({"same"} & s.low() and s.cue("barbell", "dumbbell", "kettlebell") for s in said)
        self.counted = {id(item) for node in nodes for item in _counted(node)}
        self.nested = {id(item) for node in nodes for item in _nested(node)}
        self.alone = len(self.items) == 1
        self.taken: set[int] = set()
        self.unclear: set[int] = set()
        self.found: dict[int, tuple[Amount, ...]] = {}
        self.tokens: dict[int, list[Token]] = {}
        self.division_tokens: list[Token] = []
        for item in self.items:
            self._own(item)
        for item in self.items:
            if id(item) not in self.found:
                self._same(item)
        for item in self.items:
            if id(item) not in self.found:
                self._apart(item)
        self.unit = self._usual_unit()
        self.divisions = self._divisions()

    def _kind(self, item: Node) -> SizeKind:
        assert item.work is not None
        return self.library.movements[item.work.movement].size

    def _own(self, item: Node) -> None:
        assert item.work is not None
        amounts = fitting(item.work.sizes, self.library.movements[item.work.movement])
        if amounts:
            self.found[id(item)] = amounts

    def _same(self, item: Node) -> None:
        """Take the size of the same movement where it is written with one."""
        assert item.work is not None
        for other in self.items:
            if other.work and other.work.movement == item.work.movement and id(other) in self.found:
                self.found[id(item)] = self.found[id(other)]
                return
        later = [
            o for o in self.items if o.sentence == item.sentence and id(o) in self.found and o.work and item.work
        ]
        for other in later:
            behind = other.work is not None and other.work.lo > item.work.lo
            if (behind or self.same) and self._gear(other) == self._gear(item) and not item.work.sizes:
                self.found[id(item)] = self.found[id(other)]
                return

    def _gear(self, item: Node) -> str:
        assert item.work is not None
        return self.library.movements[item.work.movement].gear.split(";")[0] or item.work.movement

    def _apart(self, item: Node) -> None:
        """Take amounts that stand in a sentence of their own: with the movement's name, its implement, or alone."""
        assert item.work is not None
        movement = self.library.movements[item.work.movement]
        if movement.size not in (SizeKind.LOAD, SizeKind.HEIGHT, SizeKind.DISTANCE):
            return
        gear = movement.gear.split(";")[0]
        implements = {name for name in ("barbell", "dumbbell", "kettlebell", "ball", "box") if name in gear}
        named: list[Amount] = []
        for said, load in self.apart:
            nouns = set(_context(said, load)) - {"plural"}
            if movement.size is SizeKind.LOAD:
                nouns -= {"box", "target"}
            others = {
                n for n in nouns if n not in implements and n in self.library.movements and n != item.work.movement
            }
            fits = item.work.movement in nouns or bool(implements & nouns)
            alone = not nouns and self._only(movement.size)
            if (fits or alone) and not (others and item.work.movement not in nouns and not implements & nouns):
                amounts = fitting(load.sizes, movement)
                if amounts:
                    label = _label_before(said, load)
                    named += [a if a.division or not label else replace(a, division=label) for a in amounts]
                    self.taken.add(id(load))
                    item.tokens += said.tokens(load)
        if named:
            self.found[id(item)] = _distinct(named)
            by_division = [a.division for a in self.found[id(item)]]
            plain = len(by_division) > 2 and not any(by_division)
            if plain or any(by_division.count(name) > 1 + (not _sexed(name)) for name in by_division if name):
                self.unclear.add(id(item))

    def _only(self, kind: SizeKind) -> bool:
        """Return whether all lines of work of a kind that lack a size use one implement."""
        lacking = {
            self.library.movements[item.work.movement].gear.split(";")[0]
            for item in self.items
            if item.work and self._kind(item) is kind and id(item) not in self.found
        }
        return len(lacking) <= 1

    def _usual_unit(self) -> str:
        """Return kg or lb if the announcement speaks of one of them only."""
        units = {
            t.low.rstrip("s")
            for t in self.words
            if t.unit("kg", "lb") or t.low in ("kg", "lb", "lbs", "pounds", "kilos")
        }
        units = {{"pound": "lb", "kilo": "kg", "#": "lb"}.get(unit, unit) for unit in units}
        return next(iter(units)) if len(units) == 1 else ""

    def _divisions(self) -> tuple[str, ...]:
        names = list(dict.fromkeys(a.division for amounts in self.found.values() for a in amounts if a.division))
        names = [name for name in names if name not in ("rx", "open")]
        plain = {"men", "women"}
        found: list[str] = []
        for name in names:
            pairs = any(
                len({a.value for a in amounts if a.division == name}) == 2 for amounts in self.found.values()
            )
            split = pairs and not plain & set(name.split())
            found += [sexed(name, sex) for sex in ("men", "women")] if split else [name]
        if set(found) <= plain:
            return DEFAULT_DIVISIONS
        open_too = any(
            a.division == "" for amounts in self.found.values() if any(a.division for a in amounts) for a in amounts
        )
        base = (
            list(DEFAULT_DIVISIONS)
            if open_too
            or plain & set(found)
            or any(a.division == "rx" for amounts in self.found.values() for a in amounts)
            else []
        )
        return tuple(dict.fromkeys([*base, *found]))

    def item(self, node: Node) -> w.Block:
        """Return a line of work with its size; a doubt where the size is missing or not clear."""
        work = node.work
        assert work is not None
        movement = self.library.movements[work.movement]
        count = w.RISING if node.rising or not work.counts else work.counts[0]
        words = words_of(node.tokens)[:LONGEST_DOUBT]
        if count == w.RISING and id(node) not in self.counted:
            if not self.alone:
                return w.Doubt(f"{words}: how many?")
            count = 1
        if work.unsure:
            return w.Doubt(f"{words}: {work.unsure}")
        if len(set(work.counts)) > 1:
            return w.Doubt(f"{words}: the notation has no counts by division")
        amounts = self.found.get(id(node), ())
        unit, usual = work.unit, amounts[0].unit if amounts else ""
        size: w.Size | None = w.Size()
        if id(node) in self.unclear:
            return w.Doubt(f"{words}: which of the loads?")
        if amounts:
            problem, usual = self._unit(movement.size, amounts)
            if problem:
                return w.Doubt(f"{words}: {problem}")
            pair = movement.gear.startswith("two") or bool(
                work.sizes and "plural" in work.sizes.nouns and len(amounts) == 1
            )
            size = size_of(
                [replace(a, unit=usual) for a in amounts], self.divisions, pair and movement.size is SizeKind.LOAD
            )
            if size is None:
                return w.Doubt(f"{words}: which number is for whom?")
            if self._falling(size, amounts):
                return w.Doubt(f"{words}: the women’s number is above the men’s, is that so?")
        elif movement.size is SizeKind.LOAD:
            return w.Doubt(f"{words}: no load is given")
        if work.unit and movement.size is not SizeKind.UNIT:
            return w.Doubt(f"{words}: {movement.name} is not counted in {work.unit}")
        if movement.size is SizeKind.UNIT and not work.unit:
            return w.Doubt(f"{words}: in cal or m?")
        rising = count == w.RISING and (id(node) in self.nested or bool(work.unit))
        tiebreak = isinstance(node.block, w.TieBreak)
        return w.Item(work.movement, count, unit, size or w.Size(), work.side, tiebreak, rising)

    def _falling(self, size: w.Size, amounts: Sequence[Amount]) -> bool:
        """Return whether plain slashes give women more than men."""
        sure = any(a.division for a in amounts)
        return (
            not sure
            and self.divisions == DEFAULT_DIVISIONS
            and len(size.values) == 2
            and size.values[0] < size.values[1]
        )

    def _unit(self, kind: SizeKind, amounts: Sequence[Amount]) -> tuple[str, str]:
        """Return what is wrong with the unit of amounts (empty if nothing) and the unit."""
        if amounts[0].unit:
            return "", amounts[0].unit
        if kind is SizeKind.HEIGHT:
            return "", "in" if max(a.value for a in amounts) <= 40 else "cm"
        if kind is SizeKind.DISTANCE:
            return "in m or ft?", ""
        return ("", self.unit) if self.unit else ("in kg or lb?", "")

    def unused(self) -> Iterator[Node]:
        """Yield a doubt for every load that stands apart and belongs to nothing."""
        for said, load in self.apart:
            used = id(load) in self.taken or all(self._known(a) for a in load.sizes.amounts)
            if not used and said.sentence.section in (Section.WORK, Section.LOADS) and self._matters(load):
                yield Node(said.tokens(load), w.Doubt(f"{said.text()[:LONGEST_DOUBT]}: what is it for?"))

    def _matters(self, load: p.Loads) -> bool:
        return any(a.unit in ("kg", "lb") for a in load.sizes.amounts)

    def _known(self, amount: Amount) -> bool:
        return any(
            amount.value == other.value and amount.unit in ("", other.unit)
            for amounts in self.found.values()
            for other in amounts
        )


def _counted(node: Node) -> Iterator[Node]:
    """Yield the lines of work that a series or ladder gives its count to."""
    if isinstance(node.block, w.Series | w.Ladder):
        yield from node.items()
    for inner in node.inner:
        yield from _counted(inner)


def _sexed(division: str) -> bool:
    return bool({"men", "women"} & set(division.split()))


def _nested(node: Node) -> Iterator[Node]:
    """Yield the lines of work in rounds inside a series or ladder, whose count is written `n`."""
    for inner in node.inner:
        if isinstance(node.block, w.Series | w.Ladder) and inner.work is None:
            yield from inner.items()
        yield from _nested(inner)


def _distinct(amounts: Sequence[Amount]) -> tuple[Amount, ...]:
    unit = amounts[0].unit
    return tuple(dict.fromkeys(a for a in amounts if a.unit == unit))


def _context(said: Said, load: p.Loads) -> list[str]:
    """Return the movements and implements that loads are said of: between them, right before, or in the heading."""
    tokens = said.sentence.tokens
    others = [other for other in said.of(p.Loads) if other.lo < load.lo]
    start = max((other.hi for other in others), default=0)
    later = [other for other in said.of(p.Loads) if other.lo > load.lo]
    end = min((other.lo for other in later), default=len(tokens))
    before = p.nouns_of(tokens[start : load.lo]) + list(load.nouns)
    behind = p.nouns_of(tokens[load.hi : end]) if not p.nouns_of(tokens[start : load.lo]) else []
    return before + behind + p.nouns_of(said.sentence.lead)


def _label_before(said: Said, load: p.Loads) -> str:
    found = ""
    for tokens in (said.sentence.lead, said.sentence.tokens[: load.lo]):
        index = 0
        while index < len(tokens):
            name, used = division_at(tokens, index)
            found = name or found
            index += max(1, used)
    return found


def read_announcement(prose: str, library: Library) -> Reading:
    """Return the notation of a pasted announcement, its doubts on lines that begin with `# ?`, and every word's fate.

    Raises: NotationError for a text that is far too long.
    """
    check_length(prose)
    source = "\n".join(prose.splitlines())
    reader = _Reader(source, library)
    workout, origin = reader.read()
    text = workout_text(workout)
    text, origin = _readable(text, workout, origin, reader, library)
    rows = text.splitlines()
    doubts = tuple(
        Doubt(i, row.strip()[1:].strip()[1:].strip())
        for i, row in enumerate(rows, 1)
        if row.strip().startswith("# ?")
    )
    return Reading(text, doubts, tuple(_marks(reader, rows, origin)))


def _readable(
    text: str,
    workout: w.Workout,
    origin: list[tuple[w.Block | None, list[Token]]],
    reader: _Reader,
    library: Library,
) -> tuple[str, list[tuple[w.Block | None, list[Token]]]]:
    """Return notation that can be read again: what does not fit together becomes doubts."""
    try:
        parse_workout(text, library)
    except CoreError as error:
        lines = [line for line in text.splitlines() if line.strip()]
        head = [workout.title] if workout.title else []
        problem = str(error).partition(": ")[2] or str(error)
        body = [doubt_text(line.strip().removeprefix("# ?").strip()) for line in lines[len(head) :]]
        broken = [*head, doubt_text(f"what was read does not fit together: {problem}"), *body]
        tokens = [t for _, row in origin for t in row]
        rows = [*origin[: len(head)], (None, tokens), *origin[len(head) :]]
        return "\n".join(broken) + "\n", rows
    return text, origin


def _marks(
    reader: _Reader, rows: Sequence[str], origin: Sequence[tuple[w.Block | None, list[Token]]]
) -> Iterator[Mark]:
    """Yield what became of every token, in the order of the source."""
    line_of: dict[int, tuple[Fate, int]] = {}
    for number, (row, (_, tokens)) in enumerate(zip(rows, origin, strict=False), 1):
        fate = Fate.DOUBT if row.strip().startswith("# ?") else Fate.USED
        for token in tokens:
            if fate is Fate.DOUBT or token.start not in line_of:
                line_of[token.start] = (fate, number)
    for token in reader.facts.used:
        line_of.setdefault(token.start, (Fate.USED, 0))
    for token in reader.tokens:
        if token.kind is not Kind.NEWLINE:
            fate, number = line_of.get(token.start, (Fate.NO_ACCOUNT, 0))
            yield Mark(token.start, token.end, fate, number)
