"""A run of amounts in a row of words: “men 60 kg, women 42.5 kg”, “2x22.5/2x15 kg dumbbells, 60/50 cm box”."""

from collections.abc import Sequence, Set
from dataclasses import replace

from sorvek.core.workout.prose.divisions import (
    PLAIN,
    age_groups,
    both_sexes,
    division_at,
    level_of,
    level_only,
    next_age,
    sexed,
)
from sorvek.core.workout.prose.sizes import DIMENSIONS, Quantity, Sizes
from sorvek.core.workout.prose.words import Kind, Token, vocabulary

KG_PER_POOD = 16  # a trade measure; kettlebells are cast in kg (common practice, no source)
MOST_TOKENS = 60
MORE = {"more", "heavier", "lighter", "extra", "less"}
EACH_HAND = {"each hand", "per hand", "in each hand", "each"}
LIGHTER = 3.0  # a ball is so many times lighter than the bar named before it, if that is one; judgement
PAIR = 4  # tokens of a pair of numbers with its unit: “52/35 kg”
PAIR_TOKENS = 6  # from the slash of a pair to its end: “/ 2 x 10 kg dumbbells”
THROWING = {"throw", "throws"}
HANDLING = {*THROWING, "lift", "lifts"}
TAKING = {"take", "takes", "use", "uses", "lift", "lifts"}
PLURALS = {"dumbbells", "dbs", "kettlebells", "kbs"}
IMPLEMENTS = ("barbell", "dumbbell", "kettlebell", "ball", "box", "target")


class _Run:
    """A run of amounts as it is read: who the next number is for, and where the last one ended."""

    def __init__(self, tokens: Sequence[Token], at: int) -> None:
        self.tokens = tokens
        self.end = at
        self.amounts: list[Quantity] = []
        self.nouns: list[str] = []
        self.division = ""  # of the numbers to come
        self.level = ""  # the last division with a level
        self.also: list[str] = []  # divisions named beside it: “masters and teenagers use 15/10 kg”
        self.outside = ""  # what it was before a bracket
        self.measured: set[str] = set()  # dimensions that division has a number of already
        self.pair = False
        self.given = False  # a bracket says who the last number is for

    def take(self, index: int, works: Set[int]) -> int:
        """Read what stands at a token; return where the run goes on, 0 if it is over."""
        token = self.tokens[index]
        if index == 0 and (groups := age_groups(self.tokens, index))[0]:
            (self.division, *self.also), colon = groups
            return colon
        name, used = self._division(index)
        if used:
            return self._label(index, name, used)
        if index in works:
            return 0
        counted = token.kind is Kind.NUMBER and token.text != "one"  # “and a 35-lb one for the women”
        if counted and (found := _amount(self.tokens, index, self.amounts, self.division)):
            return self._number(index, *found)
        held = any(other.cue("dumbbell", "kettlebell") for other in self.tokens[index + 1 : index + 8])
        both = token.low == "both" and not held  # “both 35/25 kg” of two movements
        if (token.cue("pair") and not both) or (token.number == 2 and _implement_soon(self.tokens, index)):
            self.pair = True
            return index + 1
        if self.amounts and token.low in HANDLING and any(t.low in THROWING for t in self.tokens):
            return 0  # “men lift 60 kg and throw 9 kg to 3 m, women lift …”
        if token.cue(*IMPLEMENTS):
            return self._noun(index, token)
        if token.cue("each_hand", "each_round") and token.low in EACH_HAND:
            return self._hands(index, token)
        self._bracket(token)
        if token.low in ("use", "uses") and self.amounts and self.tokens[index - 1].low == "and":
            return 0  # “clean 61 kg and use a 9-kg ball”
        target = token.low == "to" and bool(self.amounts) and _target_soon(self.tokens, index)
        target = target or (token.low in ("out", "there", "down") and bool(self.amounts) and self.amounts[-1].pair)
        joint = token.mark("/|,()[]:=@–-&~;") or token.low in vocabulary("joints") or target or both
        joint = joint or (token.low in TAKING and bool(self.division)) or token.text == "one"
        behind = self.tokens[index + 1 : index + 2]
        short = token.mark(".") and self.tokens[index - 1].unit() and bool(behind)  # “20-lb. ball”
        joint = joint or (short and not behind[0].text[:1].isupper())
        return index + 1 if joint else 0

    def _division(self, index: int) -> tuple[str, int]:
        """Return the division named here: “Masters 40-44: 75/52.5, 45+: 65/45”."""
        name, used = division_at(self.tokens, index)
        listed = not used and index > 0 and self.tokens[index - 1].mark(",;/")
        return next_age(self.tokens, index, self.level) if listed else (name, used)

    def _bracket(self, token: Token) -> None:
        """End with a bracket what it says of a division: “9 kg (women 6 kg), kettlebell 24 kg”."""
        if token.mark("(["):
            self.outside = self.division
        elif token.mark(")]"):
            self.given = False
            if self.measured and self.division != self.outside:
                self.division, self.measured = "", set()

    def _label(self, index: int, name: str, used: int) -> int:
        name = self._of_the_level(self._inside_level(index, name), index + used)
        if self.given and self.tokens[index - 1].low in ("and", "&", ",", "/"):
            self.amounts.append(replace(self.amounts[-1], division=name))  # “60 cm (men and masters men)”
            self.end = index + used
            return self.end
        if row := _labels_in_a_row(self.tokens, index, self.amounts):
            names, self.end = row
            last = self.amounts[-len(names) :]
            self.amounts[-len(names) :] = [replace(a, division=n) for a, n in zip(last, names, strict=True)]
            self.division = ""
            return self.end
        if sexed := _of_a_sex(self.tokens, index, self.amounts, name):
            self.amounts[-1] = replace(self.amounts[-1], division=sexed)
            self.measured, self.end, self.given = set(), index + used, True
            return index + used
        if self._sexed_behind(index, name, used):
            return self.end
        if _label_behind(self.tokens, index, self.amounts) and any(a.division in PLAIN for a in self.amounts):
            _give(self.amounts, name)
            self._give_both(name)
            self.division, self.end = "", index + used
            self.given = self.tokens[index - 1].mark("([")
        else:
            beside = self.division and not self.measured and self.tokens[index - 1].low in ("and", "&", ",")
            if beside and (both := both_sexes(self.division, name)):
                self.division, self.measured = both, set()
                return index + used  # “masters men 60+ and masters women 60+ use 80/52.5 kg”
            self.also = [*self.also, self.division] if beside and level_only(self.division) else []
            self.division = name
        self.measured = set()
        return index + used

    def _sexed_behind(self, index: int, name: str, used: int) -> bool:
        """Give a level's last amount the sex that stands behind it: “35-39 / 40-44: 22.5 kg M, 15 kg F”."""
        ahead = self.tokens[index + used : index + used + 1]
        ends = not ahead or ahead[0].mark(",;/")
        names = [self.division, *self.also]
        mine = [amount.division for amount in self.amounts[-len(names) :]] == names
        inside = (
            level_only(self.division) and self.division not in PLAIN and self.tokens[index - 1].unit("kg", "lb")
        )
        if not (ends and mine and inside and name in ("men", "women")):
            return False
        last = self.amounts[-len(names) :]
        self.amounts[-len(names) :] = [replace(a, division=sexed(a.division, name)) for a in last]
        self.measured, self.end = set(), index + used
        return True

    def _inside_level(self, index: int, name: str) -> str:
        """Return a sex with the level before a colon: “Masters 55+: ♂ 35 kg, ♀ 22.5 kg”."""
        level = level_only(self.division) and self.division not in PLAIN and not self.measured
        inside = level and name in ("men", "women") and self.tokens[index - 1].mark(":–")
        return sexed(self.division, name) if inside else name

    def _give_both(self, name: str) -> None:
        """Give a level behind a pair of numbers to both of them: “52/35 kg (Intermediate)”."""
        last, slashed = self.amounts[-2:], any(t.mark("/") for t in self.tokens[max(0, self.end - PAIR) : self.end])
        alike = len(last) > 1 and last[0].unit in ("", last[1].unit) and last[0].division == ""
        if alike and slashed and not {"men", "women"} & set(name.split()):
            self.amounts[-2] = replace(last[0], division=name)

    def _of_the_level(self, name: str, ahead: int) -> str:
        """Return a bare sex with the level said before it: “masters men 55+ 35 kg, women 25 kg”."""
        words = self.level.split()
        other = {"men": "women", "women": "men"}.get(name, "")
        plain = {a.division for a in self.amounts} & {"men", "women"}
        later = any(token.cue("level") for token in self.tokens[ahead:])
        if other in words[1:] and not plain and not later:
            return " ".join(name if word == other else word for word in words)
        self.level = name if level_of(name) else ""
        return name

    def _number(self, index: int, amount: Quantity, used: int) -> int:
        apart = bool(set(self.nouns) - {"target"}) and not self.division
        known = replace(amount, unit=amount.unit or _unit_ahead(self.tokens, index + used))
        if apart and self.amounts and _unlike(known, self.amounts[-1]):
            return 0
        if self._pair_over(index):
            return 0
        if self.amounts and self._of_another(_noun_ahead(self.tokens, index + used), amount):
            return 0
        dimension = DIMENSIONS.get(amount.unit or _unit_ahead(self.tokens, index + used), "load")
        joined = index > 1 and self.tokens[index - 1].low == "and" and self._alone_before(index - 1)
        beside = _slash(self.tokens, index - 1) or _told_bare(self.tokens, index) or joined  # “scaled 50 and 35 kg”
        slashed = beside and level_only(self.division)
        mine = self.division if dimension not in self.measured or slashed else ""
        behind = [token.low for token in self.tokens[index + used : index + used + 3]]
        doubled = dimension == "distance" and behind[:1] in (["out"], ["there"], ["down"])  # “10 m out, 10 m back”
        if dimension == "distance" and behind[:1] == ["back"] and self.amounts and self.amounts[-1].pair:
            self.end = index + used
            return self.end
        self.amounts.append(replace(amount, division=mine, pair=amount.pair or self.pair or doubled))
        self.amounts += [replace(self.amounts[-1], division=name) for name in self.also if mine]
        self.measured.add(dimension)
        self.end = index + used
        return self.end

    def _alone_before(self, at: int) -> bool:
        """Return whether the one load of a division stands before a word: “scaled 50 and 35 kg”."""
        number = at - 1 if self.tokens[at - 1].kind is Kind.NUMBER else at - 2
        told = number >= 0 and self.tokens[number].kind is Kind.NUMBER
        return told and [amount.division for amount in self.amounts].count(self.division) == 1

    def _pair_over(self, index: int) -> bool:
        """Return whether a second pair of numbers begins behind a comma: “60/43 kg, 9/6 kg ball”."""
        last = [a.division for a in self.amounts[-2:]]
        paired = len(last) > 1 and (set(last) <= set(PLAIN) or (last[0] == last[1] and level_only(last[0])))
        article = self.tokens[index - 1].low in ("a", "an", "one")
        twin = index + 1 < len(self.tokens) and self.tokens[index + 1].low in ("x", "×")  # “…, 2x50/35 lb”
        joint = self.tokens[index - 1 - article]
        begins = _slash(self.tokens, index + 1 + 2 * twin) and (joint.mark(",&;") or joint.low == "and")
        if article and begins and paired and _noun_ahead(self.tokens, index + 3):
            return True  # “a barbell loaded to 40/30, a 24/16 kettlebell”
        slashed = any(token.mark("/") for token in self.tokens[max(0, self.end - PAIR_TOKENS) : self.end])
        return paired and begins and bool(self.amounts[-1].unit) and slashed

    def _of_another(self, noun: str, amount: Quantity) -> bool:
        """Return whether the load of another implement begins: “50-lb dumbbell, 115-lb barbell”."""
        nouns = [known for known in self.nouns if known not in ("plural", "target")]
        again = any(not _unlike(amount, before) for before in self.amounts)
        last = self.amounts[-1]
        if noun == "ball" and not nouns and last.unit in ("kg", "lb") and last.value > LIGHTER * amount.value:
            return True  # “men deadlift 100 kg, 9-kg ball”
        return bool(noun and nouns) and noun != nouns[-1] and again

    def _noun(self, index: int, token: Token) -> int:
        stop = self.end < index and self.tokens[self.end].mark(".")  # “35-lb. dumbbells”
        beside = index == self.end + (1 if stop else 0)
        if self.amounts and index > self.end and not (self.division or beside):
            return 0
        self.nouns.append(token.name)
        if self.amounts and beside:
            self.end = index + 1
            if token.low in PLURALS:
                self.nouns.append("plural")
        return index + 1

    def _hands(self, index: int, token: Token) -> int:
        both = "hand" in token.low
        if self.amounts:
            self.pair = self.pair or both
            self.amounts = [replace(a, pair=a.pair or both) for a in self.amounts]
            self.end = index + 1
        return index + 1


def sizes_at(tokens: Sequence[Token], at: int, works: Set[int]) -> Sizes | None:
    """Return the run of amounts and divisions from a token on; `works` are the tokens at which work begins."""
    run = _Run(tokens, at)
    index = at
    while index < min(len(tokens), at + MOST_TOKENS):
        index = run.take(index, works)
        if not index:
            break
    if not run.amounts:
        return None
    amounts = tuple(_with_units(run.amounts, _loads_before(tokens[at : run.end])))
    return Sizes(at, _closed(tokens, run.end), amounts, tuple(run.nouns), _in_a_row(tokens, at, run.end))


def _in_a_row(tokens: Sequence[Token], lo: int, hi: int) -> bool:
    """Return whether more bare numbers stand before or behind a load, with commas between."""
    numbers = lo > 1 and tokens[lo].kind is tokens[lo - 2].kind is Kind.NUMBER
    before = numbers and tokens[lo - 1].mark(",")
    ahead = tokens[hi : hi + 3]
    return before or (
        len(ahead) == 3
        and tokens[hi - 1].kind is Kind.NUMBER
        and ahead[0].mark(",")
        and ahead[1].kind is Kind.NUMBER
        and (ahead[2].mark(",") or ahead[2].unit("kg", "lb"))
    )


def _give(amounts: list[Quantity], division: str) -> None:
    """Give the last amount a division, and those right before it that measure something else."""
    seen: set[str] = set()
    for index in range(len(amounts) - 1, -1, -1):
        dimension = DIMENSIONS.get(amounts[index].unit, "load")
        if amounts[index].division not in PLAIN or dimension in seen:
            return
        seen.add(dimension)
        amounts[index] = replace(amounts[index], division=division)


def _labels_in_a_row(tokens: Sequence[Token], at: int, amounts: list[Quantity]) -> tuple[list[str], int] | None:
    """Return divisions that explain the numbers before them one by one, “6/9 kg (women/men)”, and their end."""
    names: list[str] = []
    index = at
    while index < len(tokens):
        name, used = division_at(tokens, index)
        if not used:
            break
        names.append(name)
        index += used
        if index < len(tokens) and (tokens[index].mark("/,|") or tokens[index].low == "and"):
            index += 1
    plain = len(names) > 1 and len(amounts) >= len(names) and not any(a.division for a in amounts[-len(names) :])
    return (names, index) if plain else None


def _closed(tokens: Sequence[Token], end: int) -> int:
    return end + 1 if end < len(tokens) and tokens[end].mark(")]") else end


def _noun_ahead(tokens: Sequence[Token], at: int) -> str:
    """Return the implement right behind an amount, empty for none."""
    if at < len(tokens) and tokens[at].mark("("):  # “155-lb (70-kg) barbell”
        at = next((i + 1 for i in range(at, min(len(tokens), at + 6)) if tokens[i].mark(")")), at)
    token = tokens[at] if at < len(tokens) else None
    return token.name if token is not None and token.cue(*IMPLEMENTS) else ""


def _unit_ahead(tokens: Sequence[Token], at: int) -> str:
    """Return the unit at the end of a row of numbers: the kg of “60/42.5 kg”."""
    while at < len(tokens) and (tokens[at].mark("/|-") or tokens[at].kind is Kind.NUMBER):
        at += 1
        at += tokens[at - 1].mark("-") and at < len(tokens) and tokens[at].low == "and"  # “24- and 20-inch”
    return tokens[at].name if at < len(tokens) and tokens[at].unit(*DIMENSIONS) else ""


def _target_soon(tokens: Sequence[Token], at: int) -> bool:
    """Return whether “to” leads to the height of a target: “9 kg to a 3 m target”."""
    ahead = [t for t in tokens[at + 1 : at + 4] if t.low not in ("a", "an", "the")]
    return (
        len(ahead) > 1
        and ahead[0].kind is Kind.NUMBER
        and (ahead[1].unit("m", "ft", "cm", "in") or ahead[1].mark("-/"))
    )


def _unlike(amount: Quantity, before: Quantity) -> bool:
    """Return whether two amounts cannot be sizes of one thing: a load and a height."""
    return bool(amount.unit and before.unit) and DIMENSIONS[amount.unit] != DIMENSIONS[before.unit]


def _slash(tokens: Sequence[Token], at: int) -> bool:
    return at < len(tokens) and tokens[at].mark("/")


def _implement_soon(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a 2 counts implements: “two 20-kg dumbbells”, “2 x 20 kg”."""
    ahead = [token for token in tokens[at + 1 : at + 4] if token.low != "of"][:2]
    return len(ahead) == 2 and (
        (ahead[0].kind is Kind.NUMBER and (ahead[1].unit("kg", "lb") or ahead[1].mark("-/")))
        or (ahead[0].low in ("x", "×") and ahead[1].kind is Kind.NUMBER)
        or ahead[0].cue("dumbbell", "kettlebell")
    )


def _of_a_sex(tokens: Sequence[Token], at: int, amounts: list[Quantity], name: str) -> str:
    """Return the level of the last amount with the sex behind it, “Masters 50+: 40 kg (M)”; empty for none."""
    level = amounts[-1].division if amounts else ""
    bracket = at > 0 and tokens[at - 1].mark("(") and tokens[at + 1 : at + 2] and tokens[at + 1].mark(")")
    if not bracket or name not in ("men", "women") or not level_only(level) or level in PLAIN:
        return ""
    first, *age = level.rsplit(" ", 1) if level[-1] in "+0123456789" else [level]
    return " ".join([first, name, *age])


def _label_behind(tokens: Sequence[Token], at: int, amounts: list[Quantity]) -> bool:
    """Return whether a division explains the number before it: “60 kg for men”, “60 kg (men)”."""
    if not amounts:
        return False
    before = tokens[at - 1]
    ahead = at + division_at(tokens, at)[1]
    if before.mark("(") and ahead < len(tokens) and tokens[ahead].kind is Kind.NUMBER:
        return False
    if ahead + 1 < len(tokens) and tokens[ahead].mark(":=") and tokens[ahead + 1].kind is Kind.NUMBER:
        return False
    joined = (
        before.low in ("for", "by", "the")
        or before.mark("(")
        or before.kind is Kind.UNIT
        or before.kind is Kind.NUMBER
    )
    numbered = ahead < len(tokens) and (tokens[ahead].mark(":=") or tokens[ahead].kind is Kind.NUMBER)
    numbered = numbered and not _last_behind(tokens, ahead)
    return joined and not (numbered and before.low not in ("for", "by", "the") and not before.mark("("))


def _last_behind(tokens: Sequence[Token], at: int) -> bool:
    """Return whether the number here is the last and has its division behind it: “24 kg men 16 kg women”."""
    unit = at + 1 < len(tokens) and tokens[at + 1].kind is Kind.UNIT
    end = at + 1 + unit
    used = division_at(tokens, end)[1]
    return bool(used) and (end + used == len(tokens) or tokens[end + used].kind is not Kind.NUMBER)


def _amount(tokens: Sequence[Token], at: int, amounts: list[Quantity], pending: str) -> tuple[Quantity, int] | None:
    """Return the amount a number is the beginning of, and how many tokens it takes."""
    first = tokens[at]
    if first.number == 2 and at + 2 < len(tokens) and tokens[at + 1].low in ("x", "×"):
        inner = _amount(tokens, at + 2, amounts, pending or "pair") if tokens[at + 2].kind is Kind.NUMBER else None
        return (replace(inner[0], pair=True), inner[1] + 2) if inner else None
    index = at + 1
    while index < len(tokens) and tokens[index].mark("-"):
        index += 1
    behind = tokens[index] if index < len(tokens) else None
    before = tokens[at - 1] if at else None
    after = tokens[index + 1] if index + 1 < len(tokens) else None
    if behind is not None and behind.text in "'’′" and after is not None and after.cue("amrap", "cap", "emom"):
        return None  # “7' AMRAP”
    plural = behind is not None and behind.text == "s" and behind.start == first.end
    both = before is not None and before.mark("/") and bool(amounts)
    both = both or (after is not None and after.mark("/") and index + 2 < len(tokens))
    if plural and both:
        return Quantity(first.number), index - at + 1  # “50/35s”, “50s/35s”
    if behind is not None and (behind.unit("min", "s", "h") or (first.number == 2 and behind.low == "feet")):
        return None  # “masters 9 minutes”, “a two-feet take-off”
    if behind is not None and behind.unit(*DIMENSIONS) and after is not None and after.low in MORE:
        return None  # “with 5 kg more”
    if behind is not None and behind.unit(*DIMENSIONS):
        return Quantity(first.number, behind.name), index - at + 1
    counting = behind is not None and behind.cue("rounds", "set")  # “Men: 5 rounds”
    if counting or (first.number == 2 and _implement_soon(tokens, at)):
        return None  # “women two 35 lb dumbbells”: two of them
    behind = tokens[at + 1] if at + 1 < len(tokens) else None
    slashed = before is not None and before.mark("/|") and bool(amounts)
    twin = before is not None and before.low in ("x", "×") and bool(amounts)  # the 12.5 of “2x20/2x12.5”
    series = (
        behind is not None and behind.mark("-–") and at + 2 < len(tokens) and tokens[at + 2].kind is Kind.NUMBER
    )
    opened = not series and before is not None and (before.mark("@(=:[") or before.cue("men", "women", "level"))
    pairs = _pair_ahead(tokens, at)
    twice = behind is not None and behind.mark("/|") and _implement_soon(tokens, at + 2)
    given = at + 2 + (at + 2 < len(tokens) and tokens[at + 2].low == "the")
    told = behind is not None and behind.low == "for" and bool(division_at(tokens, given)[1])
    joined = behind is not None and behind.low in ("and", "or") and _sized_soon(tokens, at + 2)
    dashed = behind is not None and behind.mark("-") and [token.low for token in tokens[at + 2 : at + 3]] == ["and"]
    joined = joined or (dashed and _sized_soon(tokens, at + 3))  # “24- and 20-inch boxes”
    if (
        slashed
        or twin
        or pairs
        or twice
        or told
        or joined
        or (pending and (opened or _told_bare(tokens, at)))
        or (before is not None and before.mark("@"))
    ):
        pounds = pairs and before is not None and before.text == "#"  # “#95/65”
        return Quantity(first.number, "lb" if pounds else ""), 1
    return None


def _pair_ahead(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a number and the one behind a slash are sizes: “60/43”, not “60/48 calories”."""
    ahead = tokens[at + 1 : at + 4]
    paired = len(ahead) > 1 and ahead[0].mark("/|") and ahead[1].kind is Kind.NUMBER
    return paired and not (len(ahead) > 2 and ahead[2].unit("cal"))


def _told_bare(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a number is one of two loads that end a sentence: “the masters take 30 and 20”."""
    first = at - 2 if at > 1 and tokens[at - 1].low == "and" and tokens[at - 2].kind is Kind.NUMBER else at
    ahead = tokens[first + 1 : first + 4]
    paired = len(ahead) > 1 and ahead[0].low == "and" and ahead[1].kind is Kind.NUMBER
    ends = len(ahead) == 2 or (len(ahead) > 2 and (ahead[2].mark(".,;") or ahead[2].unit("kg", "lb")))
    return first > 0 and tokens[first - 1].low in TAKING and paired and ends


def _sized_soon(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a number with the unit of a load or height stands here: the 20 of “24 and 20 inches”."""
    number = tokens[at] if at < len(tokens) else None
    dash = at + 1 < len(tokens) and tokens[at + 1].mark("-")
    unit = tokens[at + 1 + dash] if at + 1 + dash < len(tokens) else None
    return (
        number is not None and number.kind is Kind.NUMBER and unit is not None and unit.unit("kg", "lb", "cm", "in")
    )


def _loads_before(tokens: Sequence[Token]) -> int:
    """Return how many numbers stand before a comma that parts a pair of loads from a height: “22.5/15, 50 cm”."""
    cut = next((i for i in range(3, len(tokens) - 1) if tokens[i].mark(",;") and _slash(tokens, i - 2)), 0)
    numbers = [i for i, token in enumerate(tokens) if token.kind is Kind.NUMBER]
    return sum(i < cut for i in numbers) if cut + 1 in numbers else 0


def _with_units(amounts: list[Quantity], loads: int) -> list[Quantity]:
    """Give numbers without a unit that of the next number which has one, or of the last; no height to `loads`."""
    unit, found = "", list[Quantity]()
    paired = any(amount.pair for amount in amounts)  # “2 x 22.5/15, 50 cm”: a box is no pair
    for at, amount in reversed(list(enumerate(amounts))):
        unit = amount.unit or ("" if (paired or at < loads) and unit in ("cm", "in") else unit)
        found.insert(0, replace(amount, unit=unit))
    last = next((amount.unit for amount in reversed(found) if amount.unit), "")
    last = "" if (paired or loads) and last in ("cm", "in") else last
    found = [replace(amount, unit=amount.unit or last) for amount in found]
    return [replace(a, value=a.value * KG_PER_POOD, unit="kg") if a.unit == "pood" else a for a in found]
