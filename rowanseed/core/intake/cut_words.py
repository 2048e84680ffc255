"""What a piece's words say of its cutting, in five languages: how many, on the fold, mirrored, of which cloth.

The words are those usual on printed sheets; common practice, no source.
"""

import re
from dataclasses import dataclass

_PAIR = "pairs?|paar|paires?|par|pares"
_NUMBERS = {
    1: ("one", "ein", "eine", "einmal", "einfach", "un", "une", "una", "uno", "een"),
    2: ("two", "zwei", "zweimal", "deux", "dos", "twee", rf"(?:(?:1|a|one|ein|une?|een) )?(?:{_PAIR})"),
    3: ("three", "drei", "dreimal", "trois", "tres", "drie"),
    4: ("four", "vier", "viermal", "quatre", "cuatro", rf"(?:2|two|zwei|deux|dos|twee) (?:{_PAIR})"),
    6: ("six", "sechs", "sechsmal", "seis", "zes"),
}
_WORDS = "|".join(sorted((w for words in _NUMBERS.values() for w in words), key=len, reverse=True))
_VERB = (
    r"cut|cutting|zuschneiden|zugeschnitten|zuschnitt|schneiden|schneide|ausschneiden|coupe[rz]?|d[ée]coupe[rz]?|tailler|cortar|corte|corta"
    r"|recortar|knippen|knip|snijden|quantity|qty|anzahl|quantit[ée]|cantidad|aantal"
)
_TIMES = r"x|\N{MULTIPLICATION SIGN}|mal|fois|veces|vez|keer|times"
# In this order: a name may be a number in another tongue ("Dos" is a back and is two), so a verb's own number goes first.
_CUT = tuple(
    re.compile(pattern, re.I)
    for pattern in (
        rf"\b(?:{_VERB})[^\w\n]{{0,3}}(?P<n>{_WORDS}|\d{{1,2}})(?!\s?(?:mm|cm|in\b|%))\b",
        rf"\b(?P<n>{_WORDS}|\d{{1,2}})\s?(?:{_TIMES})\b(?!\s?\d)",
        rf"\b(?:x|\u00d7)\s?(?P<n>{_WORDS}|\d{{1,2}})(?!\s?(?:mm|cm|in\b|%))\b",
        rf"\b(?P<n>{_WORDS}|\d{{1,2}})[^\S\n]+(?:{_VERB})\b",
    )
)
_FOLD = re.compile(
    r"\bfold\b(?![- ]?(?:over|back|up|line))|\b(?:im|am|auf|in|an)\s+(?:den\s+|dem\s+)?(?:stoff)?bruch\b|\bstoffbruch\b"
    r"|\b(?:au|sur|sur\s+le|dans\s+le)\s+pli\b|\bpliure\b"
    r"|\b(?:al|en\s+el|en|sobre\s+el|sobre|con)\s+(?:doblez|lomo)\b|\bstofvouw\b|\b(?:aan|tegen|op)\s+de\s+vouw\b",
    re.I,
)
_MIRRORED = re.compile(
    r"\bmirror(?:ed)?\b|\bone (?:each way|reversed)\b|\bgegengleich\b|\bspiegel(?:verkehrt|bildlich|beeld)\b|\bgespiegeld\b"
    r"|\ben vis[- ][aà][- ]vis\b|\ben miroir\b|\bsym[ée]tri(?:que|ques|cas?|cos?)\b|\b(?:en|a) espejo\b|\benfrentad[ao]s\b"
    r"|\b(?:pairs?|paar|paires?|pares)\b",
    re.I,
)
_ROLES = (
    (
        "interfacing",
        r"\b(interfacing|fusible|interlining|\w*einlage|vlieseline|entoilage|thermocollant|entretela|tussenvoering)\b",
    ),
    ("underlining", r"\b(underlining|unterlegstoff)\b"),
    ("lining", r"\b(lining|futter|futterstoff|doublure|forro|voering)\b"),
    ("contrast", r"\b(contrast|kontraststoff|contraste|contraststof)\b"),
)
_MAIN = re.compile(
    r"\b(self|main fabric|main cloth|fabric|oberstoff|stoff|tissu|tissu principal|tela|tela principal|stof|bovenstof)\b",
    re.I,
)
_SPLIT = re.compile(r"cut(?P<n>one|two|three|four|six|\d{1,2})(?!\d|cm|mm|in)", re.I)


@dataclass(frozen=True)
class CutSaid:
    """How many are cut (0 where nothing says it), whether on the fold, whether half of them are mirrored, of what role."""

    count: int
    on_fold: bool
    mirrored: bool
    role: str


def cut_said(text: str) -> CutSaid:
    """Read what a piece's words say of its cutting.

    >>> cut_said("2x im Stoffbruch zuschneiden, Futter")
    CutSaid(count=2, on_fold=True, mirrored=False, role='lining')
    >>> cut_said("couper 2 fois en vis-à-vis").count, cut_said("cut 1 pair").count, cut_said("C ut 2 o n f old").on_fold
    (2, 2, True)
    """
    whole = with_parted_letters(text)
    found = next((m for pattern in _CUT if (m := pattern.search(whole))), None)
    count = _number(found["n"]) if found else 0
    on_fold = bool(_FOLD.search(whole))
    role = next((role for role, words in _ROLES if re.search(words, whole, re.I)), "")
    if role and _MAIN.search(whole):
        role = ""  # cut of the main cloth too; what else it is cut of is asked
    mirrored = not on_fold and ((count >= 2 and count % 2 == 0) or (count >= 2 and bool(_MIRRORED.search(whole))))
    return CutSaid(count, on_fold, mirrored, role)


def before_cutting(text: str) -> str:
    """Return what stands in a line before it says how the piece is cut."""
    whole = with_parted_letters(text)
    starts = [m.start() for p in (*_CUT[:3], _FOLD, _MIRRORED) if (m := p.search(whole))]
    verb = re.search(rf"\b(?:{_VERB})\b", whole, re.I)
    starts += [verb.start()] if verb else []
    return whole[: min(starts)] if starts else whole


def with_parted_letters(text: str) -> str:
    """Return text with words put together whose letters a writer has parted, such as "C ut 2 o n f old"."""
    if not re.search(r"\b[A-Za-z] [a-z]", text):
        return text
    close = re.sub(r"\s+", "", text)
    if not (_SPLIT.search(close) or re.search(r"onthefold|onfold", close, re.I)):
        return text
    joined = re.sub(r"\bc\s?u\s?t\b", "cut", text, flags=re.I)
    joined = re.sub(r"\bo\s?n\s+t\s?h\s?e\s+f\s?o\s?l\s?d\b", "on the fold", joined, flags=re.I)
    return re.sub(r"\bo\s?n\s+f\s?o\s?l\s?d\b", "on fold", joined, flags=re.I)


def _number(said: str) -> int:
    if said.isdigit():
        return int(said)
    return next(n for n, words in _NUMBERS.items() if re.fullmatch("|".join(words), said, re.I))
