"""What is left when all is read: work, loads and times that went nowhere become doubts."""

from collections.abc import Sequence
from itertools import accumulate, pairwise

from sorvek.core.quantities import clock
from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import LEAST_TIME_S, ask
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, means, origins, words_of
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.kinds import defines, swaps
from sorvek.core.workout.prose.level_lines import optional
from sorvek.core.workout.prose.words import REPS, Kind, Token, vocabulary

# A line that tells of rest and not how long, unless it says that there is none or that it is anybody's choice.
SHORT_REST, RESTED = 6, {"no", "needed", "required", "day", "none", "period", "allowed", "counts", "included", "is"}
TURNS = {"alternate", "alternating", "share", "shared", "split"}
CLOSE = 3  # words between “or” and the movements it is between
# No qualifier of several movements is shorter; judgement.
SHORTEST_S = {w.Form.AMRAP: 120.0, w.Form.FOR_TIME: 90.0}
SHARED = {"of", "your", "1rm", "rm", "max", "heaviest", "best"}  # words behind a share of a lift
# With these words an announcement that speaks of partners says that nobody else takes part, or speaks of lanes.
ALONE = {"alone", "individual", "individually", "individuals", "solo"}
LANES = {"lane", "lanes", "rig", "heat", "heats", "judge", "judges"}
LEAST_WAY_M = 30  # no height and no target is that far; judgement
FREE = {"fine", "okay", "ok", "allowed", "permitted", "accepted"}  # words of a rule on how a rep may be done
JOINTS = ("and", "or", "only")  # “40 and older”, “x 1 only”
# Verbs behind a level that say that it does something of its own.
DOING = {"use", "uses", "may", "can", "do", "does", "perform", "performs", "step", "jump", "skip", "drop"}
MAY = {"may", "can"}
SHORT_CLOCK = 5  # words of a line that says how long the clock of all parts runs


def doubt_scaled(draft: Draft) -> None:
    """Say once that a scaled version is written and not read."""
    scaled = [said for said in draft.said if said.sentence.section is Section.SCALED]
    kinds = (p.WorkLine, p.Loads, p.LoadRow, p.RepCounts, p.RoundCount)
    mine = {line.work.movement for line in draft.lines() if line.work}
    works = [said for said in scaled if said.has(*kinds) and not (said.used or _same_is_allowed(said, mine))]
    heads = [(said, [*said.sentence.lead, *said.sentence.tokens[:1]]) for said in draft.said]
    levelled = [said for said, head in heads if said in scaled or any(token.cue("level") for token in head)]
    works += [said for said in levelled if _unknown_work(said) and said not in works and not said.doubted]
    for said in scaled:
        said.used = True
    if works:
        words = "; ".join(said.text() for said in works)[:LONGEST_DOUBT]
        tokens = [token for said in works for token in said.sentence.tokens]
        draft.builder.body.append(Node(tokens, w.Doubt(f"a scaled version is not read: {words}")))


def _unknown_work(said: Said) -> bool:
    """Return whether a count stands before words among which is no movement: “4 rope pulls from lying”."""
    tokens = said.sentence.tokens
    for at, token in enumerate(tokens[:-1]):
        end = next((i for i in range(at + 1, len(tokens)) if tokens[i].mark(",;.()/")), len(tokens))
        behind = tokens[at + 1 : end]
        named = any(word.kind in (Kind.MOVEMENT, Kind.UNIT, Kind.NUMBER) for word in behind)
        worded = bool(behind) and behind[0].kind is Kind.WORD and behind[0].low not in (*REPS, *JOINTS)
        counted = token.kind is Kind.NUMBER and token.text[:1].isdigit()  # no “to one mat”
        if counted and worded and len(behind[0].text) > 2 and not named:
            return True
    return False


def doubt_levels(draft: Draft) -> None:
    """Ask about what a level or an age group does that nothing was read of: “masters 50+ may use the legs”."""
    for said in draft.said:
        tokens = said.sentence.tokens
        level = _levels_end(tokens)
        doing = {token.low for token in tokens[level : level + 2]} & DOING if level else set()
        read = any(token.kind is Kind.NUMBER for token in tokens[level:])  # “scaled do 15-12-9”
        read = read or (said.has(p.WorkLine) and not doing & MAY)
        if doing and not (read or said.used or said.doubted or said is draft.title):
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: what does that change?", tokens)


def _levels_end(tokens: Sequence[Token]) -> int:
    """Return where the levels end that a sentence begins with, else 0: “Note: Masters (35+) and scaled …”."""
    at = 2 if len(tokens) > 2 and tokens[1].mark(":") and not tokens[0].cue("level") else 0
    if not any(token.cue("level") for token in tokens[at : at + 2]):
        return 0
    end = at + division_at(tokens, at)[1]
    while end < len(tokens) and (tokens[end].low in ("and", "athletes") or tokens[end].mark("(),&/")):
        end += 1
        end += division_at(tokens, end)[1] if end < len(tokens) and tokens[end].cue("level") else 0
    return end


def doubt_out(draft: Draft) -> None:
    """Ask about who is out of work for time: “if you do fewer than 5 in any minute you are out”."""
    for said in draft.said:
        work = said.sentence.section is Section.WORK and said.cue("until_missed") and said.cue("if")
        if draft.facts.form is w.Form.FOR_TIME and work and not (said.doubted or said is draft.title):
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for this", said.sentence.tokens)


def doubt_shares(draft: Draft) -> None:
    """Ask about work whose load is a share of a lift, if it was passed over: “cleans at 70 % of your best”."""
    mine = {token.start for line in draft.lines() for token in line.tokens}
    for said in draft.said:
        tokens = said.sentence.tokens
        at = next((i for i, (a, b) in enumerate(pairwise(tokens)) if a.kind is Kind.NUMBER and b.text == "%"), 0)
        of_a_lift = SHARED & {word for token in tokens[at + 2 :] for word in token.low.split()}
        named = [token for token in tokens[:at] if token.kind is Kind.MOVEMENT and of_a_lift][-1:]
        lost = said.sentence.section is Section.WORK and any(token.start not in mine for token in named)
        if lost and not (said.doubted or said is draft.title or said.has(p.Lift)):
            words = f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for a share of a lift"
            ask(draft, words, tokens)


def doubt_partners(draft: Draft) -> None:
    """Ask about work that is shared: “in teams of two”, “partner A: …”, “one athlete … while the other …”."""
    alone = any(ALONE & said.low() or "pairs of" in said.text().lower() for said in draft.said)
    shared = [said for said in draft.said if _shared(said) and not said.doubted]
    for said in shared[:1] if not alone else ():
        words = f"{said.text()[:LONGEST_DOUBT].rstrip(':')}: the notation has no words for partners"
        ask(draft, words, said.sentence.tokens)


def _shared(said: Said) -> bool:
    """Return whether a sentence of the work speaks of partners, and not of lanes: “only one athlete per lane”."""
    halves = {"partner", "partners"} & said.low() and TURNS & said.low()  # “with a partner, alternate rounds”
    here = (said.cue("partners") or halves) and said.sentence.section in (Section.WORK, Section.CAP)
    return bool(here) and not LANES & said.low()


def doubt_other_lifts(draft: Draft) -> None:
    """Ask about a maximum of what is no lift of the library: “1 RM weighted pull-up”."""
    for said in draft.said:
        words = {word for token in said.sentence.tokens for word in token.low.split()}
        lifted = said.sentence.section is Section.WORK and "rm" in words and "%" not in words
        lifted = lifted and any(not draft.library.movements[x.movement].styles[0].lift for x in said.of(p.WorkLine))
        if lifted and not (any(other.has(p.Lift) for other in draft.said) or said.doubted or said is draft.title):
            doubt = f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for a max lift of this"
            ask(draft, doubt, said.sentence.tokens)


def doubt_unbroken(draft: Draft) -> None:
    """Ask about work that must be done without a break: a plan of this notation is free to break it."""
    for said in draft.said:
        advised = {"not", "need", "should", "recommended", "try", "if", "goal", "may", "max"} & said.low()
        working = said.used and said.sentence.section is Section.WORK and said.has(p.WorkLine, p.RoundCount)
        if "unbroken" in said.low() and working and not (advised or said.doubted or said is draft.title):
            words = f"{said.text()[:LONGEST_DOUBT]}: must it be unbroken? A plan may break it"
            ask(draft, words, said.sentence.tokens)


def _same_is_allowed(said: Said, mine: set[str]) -> bool:
    """Return whether a level may do a movement of the work otherwise: “Scaled: burpees stepped over allowed”."""
    works = said.of(p.WorkLine)
    return (
        bool(works)
        and len(said.phrases) <= len(works) + said.cue("level")
        and all(work.movement in mine and not work.counts and optional(said, work) for work in works)
    )


# Words that may stand beside a sum of reps; with any other it may be of a movement that is not known.
TOTALS = {"reps", "repetitions", "total", "in total", "for", "for time", "in", "all", "of", "complete", "a", "the"}


def doubt_empty(draft: Draft) -> None:
    """Ask what is done where a form and its time were read, and no work for it."""
    bounded = draft.facts.form not in (w.Form.LIFT, w.Form.UNKNOWN)
    if bounded and not draft.top() and draft.facts.every is None:
        ask(draft, "what is to be done in this time?", draft.facts.tokens)


def drop_totals(draft: Draft) -> None:
    """Leave out a number that is the sum of all counts: “90 reps for time”, three times 30."""
    total = _total(draft.top())
    for node in list(draft.builder.body):
        numbers = [token.number for token in node.tokens if token.kind is Kind.NUMBER]
        words = {token.low for token in node.tokens if token.kind not in (Kind.NUMBER, Kind.MARK)}
        told = {"reps", "repetitions"} & words and words <= TOTALS
        if isinstance(node.block, w.Doubt) and told and numbers == [total]:
            draft.facts.used += node.tokens
            draft.builder.body.remove(node)


def _total(nodes: Sequence[Node]) -> int:
    """Return the reps of lines with counts of their own, rounds multiplied."""
    total = sum(node.work.counts[0] for node in nodes if node.work and node.work.counts)
    inside = ((node.block.count if isinstance(node.block, w.Rounds) else 1, node.inner) for node in nodes)
    return total + sum(times * _total(inner) for times, inner in inside)


def doubt_unread(draft: Draft) -> None:
    """Doubt what looks like work, load or time and was not used."""
    for said in draft.said:
        if said.used or said.sentence.heading or said.sentence.section in (Section.STANDARDS, Section.STORY):
            continue
        reason = _worrying(draft, said)
        if reason:
            tokens = [*said.sentence.lead, *said.sentence.tokens]
            draft.builder.body.append(Node(tokens, w.Doubt(said.text()[:LONGEST_DOUBT])))
            said.used = said.doubted = True


def doubt_lost(draft: Draft) -> None:
    """Doubt counted work that is in no line of the notation and repeats none."""
    mine = {token.start for node in draft.top() for row in origins(node) for token in row[1]}
    mine |= {token.start for token in draft.facts.lift_tokens}
    seen = set(draft.builder.visits())
    silent = (Section.STANDARDS, Section.STORY, Section.SCALED)
    for said in draft.said:
        for work in said.of(p.WorkLine):
            short = set(work.movement.split())
            named = {name for name, _ in seen if short <= set(name.split())}  # the snatches of “10 squat snatches”
            known = said.tokens(work)[0].start in mine or any(
                (name, count) in seen for name in named for count in work.counts
            )
            if (
                work.counts
                and not work.pointed
                and not known
                and not (defines(said) or _valued(said, work))
                and said.sentence.section not in silent
                and not said.doubted
            ):
                tokens = said.tokens(work)
                draft.builder.body.append(Node(tokens, w.Doubt(words_of(tokens))))


def doubt_missing(draft: Draft) -> None:
    """Doubt movements that are named without a count and are in no line of the notation."""
    items = [item for node in draft.top() for item in node.items() if item.work]
    lifts = [lift for lift in (draft.facts.lift, draft.facts.lift and draft.facts.lift.second) if lift]
    known = {
        name for item in items for name in (item.work.movement if item.work else "", *dict(item.others).values())
    }
    known |= {name for lift in lifts for name, _ in lift.parts}
    known |= {token.name for node in draft.top() for _, tokens in origins(node) for token in tokens}
    known |= {token.name for _, tokens in draft.facts.asked for token in tokens}
    for said in draft.said:
        quiet = said.sentence.section not in (Section.WORK, Section.CAP) or said.doubted or said is draft.title
        if quiet or said.sentence.heading or said.has(p.Lift) or vocabulary("standards") & said.low():
            continue
        if "counts as" in said.text().lower() or FREE & said.low():
            continue  # “a squat snatch counts as the first overhead squat”
        for work in said.of(p.WorkLine):
            if optional(said, work) and division_at(said.sentence.tokens, 0)[1]:
                continue  # “Masters: 35 kg, burpees may step over the bar”
            if division_at(said.sentence.tokens, 0)[1] and work.movement not in known and not work.counts:
                words = f"{said.text()[:LONGEST_DOUBT]}: instead of what?"
                draft.builder.body.append(Node(said.sentence.tokens, w.Doubt(words)))
                break
            if "complex" in said.low() and not work.counts:
                continue  # “Front squat + jerk complex” heads a lift
            weak = not work.unit and (said.tokens(work)[0].low in vocabulary("weak") or work.movement == "run")
            if not (work.counts or weak or any(means(work.movement, name) for name in known if name)):
                words = f"{words_of(said.tokens(work))}: how many, and where?"
                draft.builder.body.append(Node(said.tokens(work), w.Doubt(words)))
                known.add(work.movement)


def doubt_times(draft: Draft) -> None:
    """Doubt times in sentences of work that the notation does not hold: a cap or part that was passed over."""
    mine = {token.start for node in draft.top() for row in origins(node) for token in row[1]}
    mine |= {t.start for t in (*draft.facts.tokens, *draft.facts.used, *draft.facts.lift_tokens)}
    mine |= {token.start for _, tokens in draft.facts.asked for token in tokens}
    known = _known_times(draft)
    for said in draft.said:
        quiet = not said.used or said.doubted or said is draft.title or vocabulary("around") & said.low()
        if quiet or said.sentence.section not in (Section.WORK, Section.CAP):
            continue
        for span in said.of(p.Span):
            tokens = said.tokens(span)
            lost = span.seconds >= LEAST_TIME_S and span.seconds not in known and tokens[0].start not in mine
            if lost:
                words = f"{said.text()[:LONGEST_DOUBT]}: what is {words_of(tokens)} for?"
                draft.builder.body.append(Node(tokens, w.Doubt(words)))


def doubt_rounds(draft: Draft) -> None:
    """Doubt rounds that are told and that nothing is repeated by: they may have been passed over."""
    known = _known_rounds(draft)
    lines = sum(1 for node in draft.top() for _ in node.items())
    for said in draft.said:
        quiet = said.doubted or said is draft.title or said.sentence.heading or "example" in said.low()
        if quiet or said.sentence.section not in (Section.WORK, Section.CAP):
            continue
        for rounds in said.of(p.RoundCount):
            written_out = lines > rounds.count and lines % rounds.count == 0
            if rounds.count > 1 and not (rounds.pointed or rounds.count in known or written_out):
                words = f"{said.text()[:LONGEST_DOUBT]}: {rounds.count} rounds of what?"
                draft.builder.body.append(Node(said.tokens(rounds), w.Doubt(words)))


def doubt_choices(draft: Draft) -> None:
    """Ask about movements that may be chosen, and about a time so short that it must be that of a round."""
    for said in draft.said:
        tokens = said.sentence.tokens
        working = said.sentence.section in (Section.WORK, Section.CAP) and not (said.doubted or FREE & said.low())
        text = said.text().lower()
        chosen = "your choice" in text or "of choice" in text or "bar or ring" in text or "ring or bar" in text
        if working and chosen and any(work.counts for work in said.of(p.WorkLine)):
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: which of them?", tokens)
            continue
        slashed = [(a, c) for a, b, c in zip(tokens, tokens[1:], tokens[2:], strict=False) if b.mark("/")]
        if working and any(_machine(draft, a) and _machine(draft, c) for a, c in slashed):
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: which of them?", tokens)  # “12 cal bike/row”
            continue
        either = tokens[0].low == "any"  # “Any clean (power or squat)”
        for at in (i for i, token in enumerate(tokens) if token.low == "or" and working and not either):
            sides = (tokens[max(0, at - CLOSE) : at], tokens[at + 1 : at + 1 + CLOSE])
            if all(any(token.kind is Kind.MOVEMENT for token in side) for side in sides):
                ask(draft, f"{said.text()[:LONGEST_DOUBT]}: which of the two?", tokens)
                break
    lines = sum(1 for node in draft.top() for _ in node.items())
    shortest_s = SHORTEST_S.get(draft.facts.form, 0.0) if draft.facts.every is None else 0.0
    if 0 < draft.facts.cap_s < shortest_s and lines > 1:
        ask(draft, f"is all of it over after {clock(draft.facts.cap_s)}?", draft.facts.tokens)


def _machine(draft: Draft, token: Token) -> bool:
    return token.kind is Kind.MOVEMENT and draft.library.movements[token.name].family == "machine"


def _known_rounds(draft: Draft) -> set[int]:
    """Return how often anything is repeated in the notation, also by blocks that a tie-break cuts in two."""
    blocks = [node.block for top in draft.top() for node, _ in origins(top) if any(True for _ in node.items())]
    rounds = [block.count for block in blocks if isinstance(block, w.Rounds)]
    found = {*rounds, *(count + 1 for count in rounds), sum(rounds), len(draft.top())}
    found |= {len(block.counts) for block in blocks if isinstance(block, w.Series)}
    found |= {len(block.counts()) for block in blocks if isinstance(block, w.Ladder) and block.turns}
    found.add(sum(isinstance(block, w.TimedPart) for block in blocks))
    return found | ({draft.facts.every.count} if draft.facts.every else set())


def _ways_beside(draft: Draft, said: Said, work: p.WorkLine) -> list[int]:
    """Return where metres stand that were taken for the size of work that has none: “10 muscle-ups, 400 m”."""
    movement = draft.library.movements[work.movement]
    if movement.size in (SizeKind.DISTANCE, SizeKind.UNIT) or work.unit == "m" or work.sizes is None:
        return []
    tokens = said.sentence.tokens
    places = range(work.sizes.lo, min(work.sizes.hi, len(tokens) - 1))
    return [i for i in places if tokens[i].number >= LEAST_WAY_M and tokens[i + 1].unit("m", "km")]


def doubt_ways(draft: Draft) -> None:
    """Ask once about metres that stand beside work that has none: “400 m” may be a run."""
    for said in draft.said if draft.facts.form is not w.Form.LIFT else ():
        ways = [i for work in said.of(p.WorkLine) for i in _ways_beside(draft, said, work)]
        if ways and said.sentence.section is Section.WORK and not said.doubted:
            words = said.sentence.tokens[ways[0] : ways[0] + 2]
            draft.builder.body.append(Node(words, w.Doubt(f"{words_of(words)}: of what?")))
            return


def doubt_numbers(draft: Draft) -> None:
    """Doubt rep series, metres, calories and loads in sentences of work that nothing was made of."""
    rows = (row for node in draft.top() for row in origins(node) if not _left_out(row[0]))
    mine = {token.start for row in rows for token in row[1]}
    mine |= {t.start for t in (*draft.facts.tokens, *draft.facts.used, *draft.facts.lift_tokens)}
    mine |= {token.start for _, tokens in draft.facts.asked for token in tokens}
    mine |= {token.start for token in draft.builder.said_again}
    for said in draft.said:
        quiet = not said.used or said.doubted or said is draft.title or said.sentence.heading or defines(said)
        if quiet or said.sentence.section is not Section.WORK or vocabulary("standards") & said.low():
            continue
        tokens = said.sentence.tokens
        read = {i for phrase in said.phrases for i in range(phrase.lo, phrase.hi)}
        lost = [
            tokens[i : i + 2]
            for i in range(len(tokens) - 1)
            if i not in read and tokens[i].kind is Kind.NUMBER and tokens[i + 1].unit("m", "km", "cal", "kg", "lb")
        ]
        lost += [said.tokens(counts) for counts in said.of(p.RepCounts) if not _goes_on(draft, counts)]
        for words in lost:
            if words[0].start not in mine:
                draft.builder.body.append(Node(words, w.Doubt(f"{words_of(words)}: what is it for?")))


def _goes_on(draft: Draft, counts: p.RepCounts) -> bool:
    """Return whether counts are later rungs of a ladder without an end: “16 … 20 … 24 …”."""
    ladders = [node.block for node in draft.top() if isinstance(node.block, w.Ladder) and not node.block.turns]
    return any(
        all(count >= ladder.first and (count - ladder.first) % ladder.step == 0 for count in counts.counts)
        for ladder in ladders
        if ladder.step > 0
    )


def _left_out(node: Node) -> bool:
    """Return whether nothing is written of a block, as no work came into it."""
    repeats = isinstance(node.block, w.Rounds | w.Series | w.Ladder)
    return repeats and not any(True for _ in node.items()) and not node.inner


def _valued(said: Said, work: p.WorkLine) -> bool:
    """Return whether work only says what counts as a rep: “1 rep per 10 m”, “every 100 m count as one”."""
    text = said.text().lower()
    behind = [token.text for token in said.sentence.tokens[work.hi : work.hi + 2]]
    counting = {token.low for token in said.sentence.tokens[work.hi : work.hi + 4]} & {"count", "counts"}
    if behind == ["=", "1"] or (counting and work.unit):
        return True  # “10 m = 1 rep”, “where 10 m of rowing count as one rep”
    told = said.sentence.section is Section.SCORE or any(
        word in text for word in ("counts as", "count as", "worth", "is a rep", "is one rep")
    )
    return told and work.lo > 0 and said.sentence.tokens[work.lo - 1].low in ("per", "every", "each")


def _worrying(draft: Draft, said: Said) -> bool:
    """Return whether a sentence that was not used may hold work, a load or a time."""
    low = said.low()
    works = [work for work in said.of(p.WorkLine) if work.counts and not _valued(said, work)]
    works = [] if said.cue("score") and {"total", "time"} <= low else works  # “score: total time of all 6 rows”
    if works and not vocabulary("standards") & low and not defines(said):
        seen = set(draft.builder.visits())
        if any((work.movement, work.counts[0]) not in seen for work in works):
            return True
    beyond = {"beyond", "onwards", "onward"} & low and any(x.name == "rounds" and x.number for x in said.of(p.Cue))
    if beyond and said.sentence.section is Section.WORK:
        return True  # “round 5 and beyond: as round 4”
    first = said.sentence.tokens[0]
    if first.cue("rest") and 1 < said.sentence.words <= SHORT_REST and not (said.of(p.Span) or RESTED & low):
        return True  # “rest 1:1 between rounds”
    ahead = (said.sentence.tokens[x.lo + 1 : x.lo + 4] for x in said.of(p.Unknown))
    if any(t[0].unit("cal", "m") or (len(t) > 2 and t[0].mark("/") and t[2].unit("cal", "m")) for t in ahead if t):
        return True  # “row, ski or bike, you choose: 60/48 calories”
    if swaps(said) and (said.of(p.WorkLine) or said.cue("level")):
        return True
    sized = said.of(p.Loads) or any(work.sizes for work in said.of(p.WorkLine))
    if said.cue("level") and not sized and any(token.kind is Kind.MOVEMENT for token in said.sentence.tokens):
        return True  # “masters do single-unders”
    return _strange_time(draft, said)


def _strange_time(draft: Draft, said: Said) -> bool:
    """Return whether a sentence names a time of the work that nothing was made of."""
    if said.sentence.section not in (Section.WORK, Section.CAP, Section.SCORE) or vocabulary("around") & said.low():
        return False
    known = _known_times(draft)
    if draft.facts.form is w.Form.PARTS and "clock" in said.low() and said.sentence.words <= SHORT_CLOCK:
        known |= {span.seconds for span in said.of(p.Span) if span.seconds >= max(known)}  # “on a 12:00 clock”
    return any(span.seconds not in known and span.seconds >= LEAST_TIME_S for span in said.of(p.Span))


def _known_times(draft: Draft) -> set[float]:
    """Return all times the notation holds, those of the clock and of parts, rests and lifts among them."""
    facts, ranges = draft.facts, draft.builder.ranges
    lifts = [lift for lift in (facts.lift, facts.lift and facts.lift.second) if lift]
    blocks = [node.block for top in draft.top() for node, _ in origins(top)]
    parts = [block for block in blocks if isinstance(block, w.Rest | w.TimedPart)]
    lengths = [block.seconds if isinstance(block, w.Rest) else block.cap_s for block in parts]
    rests = [block.seconds for block in parts if isinstance(block, w.Rest)]
    return {
        *accumulate(lengths),
        *(sum(lengths) + rest_s for rest_s in rests),  # “x 5 rounds (20 min)” with a rest behind the last
        facts.cap_s,
        facts.cap_s * draft.builder.intervals,  # “12 minutes”: eight windows of 90 seconds
        facts.round_cap_s,
        facts.every.seconds if facts.every else 0.0,
        *(lift.window_s for lift in lifts),
        *(lift.rest_s for lift in lifts),
        facts.cap_s + sum(lift.window_s + lift.rest_s for lift in lifts),
        *(block.seconds for block in blocks if isinstance(block, w.Rest)),
        *(block.cap_s for block in blocks if isinstance(block, w.Stage | w.TimedPart)),
        *(found.to_s for found in ranges),
        *(found.to_s - found.from_s for found in ranges),
    }
