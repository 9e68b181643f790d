"""Divisions as announcements name them: levels, sexes and ages, “masters women 55+”."""

from collections.abc import Sequence

from sorvek.core.workout.prose.words import Kind, Token

LEAST_MASTERS = 30
MOST_UNDER = 23  # nobody speaks of “under 40”
PLAIN = ("", "rx", "open")  # everybody who is not named elsewhere, of either sex
AGES, WHO = {"age", "ages", "aged"}, {"athletes", "those", "anyone", "everyone", "everybody"}
GROUPS = {"group", "category", "class"}
OLDER = [[joint, word] for joint in ("and", "or") for word in ("older", "over", "above", "up")]
SAME_LEVEL = {
    "rxd": "rx",
    "as prescribed": "rx",
    "master": "masters",
    "teen": "teens",
    "teenager": "teenagers",
    "junior": "juniors",
    "int": "intermediate",
    "inter": "intermediate",
    "sc": "scaled",
    "scaling": "scaled",
}


def division_at(tokens: Sequence[Token], at: int) -> tuple[str, int]:
    """Return the division named from a token on, as `masters women 55+`, and how many tokens it takes."""
    sex = age = ""
    level, used = _under(tokens, at)
    index = at + used
    if told := _told_age(tokens, at):
        return told
    while index < len(tokens):
        token = tokens[index]
        if token.cue("level"):
            plain = token.low.replace("'", "").replace("’", "")
            name = SAME_LEVEL.get(plain, plain)
            if _plus(tokens, index):  # “RX+”
                name, index = f"{name} plus", index + 1
            level = name if level in ("", *PLAIN) else level
        elif level and not sex and (order := _men_and_women(tokens, index)):
            index += order - 1  # “Intermediate (M/W)” only gives the order
        elif token.cue("men", "women") and not sex:
            sex = token.name
        elif (level or sex) and not age and (found := _age_beside(tokens, index, bool(level))):
            age, index = found[0], index + found[1] - 1
        elif (level or sex) and not age and (found := _age_listed(tokens, index)):
            age, index = found[0], index + found[1]
        elif not ((level or sex) and token.mark("-'’s") and _goes_on(tokens, index + 1)):
            break
        index += 1
    return _named(level, sex, age), index - at


def _named(level: str, sex: str, age: str) -> str:
    """Return the name of a division; men and women of an age are masters, as an age without a sex is."""
    level = "" if level in ("rx", "open") and sex else level
    older = bool(sex and age and not level) and int(age[:2]) >= LEAST_MASTERS
    return " ".join(filter(None, ("masters" if older else level, sex, age)))


def _plus(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a level is the one above its name: “RX+ 80/55 kg”, not “Masters +40”."""
    ahead = tokens[at + 1 : at + 3]
    beside = bool(ahead) and ahead[0].mark("+") and ahead[0].start == tokens[at].end
    return beside and not (len(ahead) > 1 and ahead[1].start == ahead[0].end)


def _age_beside(tokens: Sequence[Token], at: int, levelled: bool) -> tuple[str, int] | None:
    """Return the age group behind a sex or a level: “55+”, “over 45”, behind a level also “+40” and “(14-17)”."""
    token, closed = tokens[at], None
    if found := _age(tokens, at):
        return found
    if (token.low == "over" or (levelled and token.mark("+"))) and _aged(tokens, at + 1):
        return f"{tokens[at + 1].number:.0f}+", 2
    if levelled and token.mark("(") and (found := _age(tokens, at + 1)):
        closed = tokens[at + 1 + found[1] :][:1]
    return (found[0], found[1] + 2) if found and closed and closed[0].mark(")") else None


def _age_listed(tokens: Sequence[Token], at: int) -> tuple[str, int] | None:
    """Return the first age group of a list behind a colon: “men: 40-44 22.5 kg, 45-49 …”, “men: 40-44: …”."""
    found = _age(tokens, at + 1) if tokens[at].mark(":") else None
    behind = tokens[at + 1 + found[1] :][:2] if found else []
    return found if behind and (behind[0].mark(":") or _weighed(behind)) else None


def _weighed(tokens: Sequence[Token]) -> bool:
    return len(tokens) > 1 and tokens[0].kind is Kind.NUMBER and tokens[1].unit("kg", "lb")


def _men_and_women(tokens: Sequence[Token], at: int) -> int:
    """Return how many tokens name both sexes, the men first: “M/W”, “(men/women)”; 0 if they do not."""
    bracket = at < len(tokens) and tokens[at].mark("([")
    row = tokens[at + bracket : at + bracket + 3]
    both = len(row) == 3 and row[0].cue("men") and row[1].mark("/&|") and row[2].cue("women")
    end = at + bracket + 3
    closed = not bracket or (end < len(tokens) and tokens[end].mark(")]"))
    return 2 * bracket + 3 if both and closed else 0


def _under(tokens: Sequence[Token], at: int) -> tuple[str, int]:
    """Return an age group that is told by its end, and how many tokens it takes: “under 18”, “U-16”."""
    dash = 1 + bool(tokens[at + 1 : at + 2] and tokens[at + 1].mark("-"))
    told = tokens[at].low in ("under", "u") if at < len(tokens) else False
    if not told or not _aged(tokens, at + dash) or tokens[at + dash].number > MOST_UNDER:
        return "", 0
    behind = tokens[at + dash + 1 : at + dash + 2]
    plural = bool(behind) and behind[0].low == "s" and behind[0].start == tokens[at + dash].end
    timed = bool(behind) and behind[0].unit() and not plural  # “under 12 minutes”
    return ("", 0) if timed else (f"under-{tokens[at + dash].number:.0f}", dash + 1 + plural)


def _told_age(tokens: Sequence[Token], at: int) -> tuple[str, int] | None:
    """Return the division of an age that is told without a level: “ages 55+”, “athletes over 50”, “35-44:”.

    They are the groups above and below the open ones (common practice, no source).
    """
    numbered = tokens[at : at + 2]
    short = len(numbered) == 2 and numbered[0].text == "M" and numbered[0].end == numbered[1].start
    if short and _aged(tokens, at + 1) and numbered[1].number >= LEAST_MASTERS and not numbered[1].number % 5:
        return f"masters {numbered[1].number:.0f}+", 2  # “M40 THRUSTER 35/25 KG”
    words = [token.low for token in tokens[at : at + 2]]
    grouped = bool(set(words[:1]) & AGES and set(words[1:]) & GROUPS)  # “Age group 55+: …”
    first = (
        1 + grouped
        if set(words[:1]) & AGES
        else 2
        if set(words[:1]) & WHO and set(words[1:]) & {*AGES, "over"}
        else 0
    )
    if not first and set(words[:1]) & WHO and [token.low for token in tokens[at + 2 : at + 4]] in OLDER:
        first = 1  # “athletes 55 and older”
    found = _age(tokens, at + first)
    if found is None and first and words[first - 1] == "over" and _aged(tokens, at + first):
        found = f"{tokens[at + first].number:.0f}+", 1
    behind = tokens[at + first + found[1] :][:2] if found else []
    if found is None or not (first or (at == 0 and behind and (behind[0].mark(":") or _weighed(behind)))):
        return None
    level = "masters" if tokens[at + first].number >= LEAST_MASTERS else "teens"
    return f"{level} {found[0]}", first + found[1]


def age_groups(tokens: Sequence[Token], at: int) -> tuple[list[str], int]:
    """Return the divisions of age groups that head a line, “35-39, 40-44:”, and where the colon stands.

    The level may be named before them: “Masters 50-54, 55+:”, “Masters (50-54, 55+):”.
    """
    names: list[str] = []
    at += bool(tokens[at : at + 1]) and tokens[at].low in ("masters", "master", "teens", "teenagers")
    bracket = bool(tokens[at : at + 1]) and tokens[at].mark("(")
    at += bracket
    while found := _age(tokens, at):
        level = "masters" if tokens[at].number >= LEAST_MASTERS else "teens"
        names.append(f"{level} {found[0]}")
        at += found[1]
        if not tokens[at : at + 1] or not (tokens[at].mark(",/&") or tokens[at].low == "and"):
            break
        at += 1
    at += bracket and bool(tokens[at : at + 1]) and tokens[at].mark(")")
    colon = len(names) > 1 and bool(tokens[at : at + 1]) and tokens[at].mark(":")
    return (names, at) if colon else ([], at)


def next_age(tokens: Sequence[Token], at: int, level: str) -> tuple[str, int]:
    """Return the next age group of a level behind one of its groups, “…, 45+:”, and how many tokens it takes."""
    words = level.split()
    found = _age(tokens, at) if words and words[-1][0].isdigit() else None
    behind = tokens[at + found[1] :][:2] if found else []
    plus = behind and found and behind[0].kind is Kind.NUMBER and found[0].endswith("+")
    told = behind and (behind[0].mark(":=") or _weighed(behind) or plus)
    return (" ".join([*words[:-1], found[0]]), found[1]) if found and told else ("", 0)


def _goes_on(tokens: Sequence[Token], at: int) -> bool:
    return at < len(tokens) and tokens[at].cue("level", "men", "women")


def _aged(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a bare number can be an age here."""
    return at < len(tokens) and 10 < tokens[at].number < 100 and not tokens[at].number % 1


def _age(tokens: Sequence[Token], at: int) -> tuple[str, int] | None:
    """Return an age group such as `35+` or `35-39`."""
    if not _aged(tokens, at) or tokens[at].kind is not Kind.NUMBER:
        return None
    after = tokens[at + 3 : at + 4]
    loads = bool(after) and (after[0].mark("-–") or after[0].unit("kg", "lb")) and tokens[at + 1].mark("-–")
    if loads:
        return None  # “women 42.5-45-47.5 kg”
    behind = list(tokens[at + 1 : at + 3])
    age = f"{tokens[at].number:.0f}"
    if behind and behind[0].mark("+"):
        return f"{age}+", 2
    if [token.low for token in behind] in OLDER:
        return f"{age}+", 3
    if (
        len(behind) == 2
        and behind[0].mark("-–")
        and behind[1].kind is Kind.NUMBER
        and behind[1].number > tokens[at].number
    ):
        return f"{age}-{behind[1].number:.0f}", 3
    return None


def both_sexes(men: str, women: str) -> str:
    """Return the level of two divisions that differ only by sex, empty if they differ otherwise or have none."""
    levels = [[word for word in name.split() if word not in ("men", "women")] for name in (men, women)]
    sexes = {*men.split(), *women.split()} & {"men", "women"}
    return " ".join(levels[0]) if levels[0] == levels[1] and len(sexes) == len({"men", "women"}) else ""


def level_only(division: str) -> bool:
    """Return whether a division names a level and no sex."""
    return bool(division) and not {"men", "women"} & set(division.split())


def level_of(division: str) -> str:
    """Return the level of a division without its sex, empty for everybody's."""
    return " ".join(word for word in division.split() if word not in ("men", "women", *PLAIN))


def sexed(division: str, sex: str) -> str:
    """Return the division of a sex inside one that names none: `masters 50+` becomes `masters men 50+`."""
    if division in PLAIN:
        return sex
    words = division.split()
    at = next((i for i, word in enumerate(words) if word[0].isdigit()), len(words))
    return " ".join([*words[:at], sex, *words[at:]])
