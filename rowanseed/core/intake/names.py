"""What names say: a layer or group that is a size, a layer that holds seam lines or notches, the words on a piece."""

import re
from dataclasses import dataclass

from rowanseed.core.intake.cut_words import before_cutting, cut_said
from rowanseed.core.intake.model import Sense

_LETTERS = [
    "XXXXXL",
    "XXXXL",
    "XXXL",
    "XXL",
    "XL",
    "L",
    "M",
    "S",
    "XS",
    "XXS",
    "XXXS",
    "6XL",
    "5XL",
    "4XL",
    "3XL",
    "2XL",
    "0X",
    "1X",
    "2X",
    "3X",
    "4X",
    "5X",
    "6X",
]
_LETTER_RANK = {
    name: rank
    for rank, names in enumerate(
        (
            ("XXXS",),
            ("XXS",),
            ("XS",),
            ("S",),
            ("M",),
            ("L",),
            ("XL", "0X"),
            ("XXL", "2XL", "1X"),
            ("XXXL", "3XL", "2X"),
            ("XXXXL", "4XL", "3X"),
            ("XXXXXL", "5XL", "4X"),
            ("6XL", "5X"),
            ("6X",),
        )
    )
    for name in names
}
_PREFIX = r"(?:sizes?|sz|eu|uk|us|fr|de|it|gr(?:ö|oe)(?:ß|ss)e|gr\.?|taille|talla|maat)"
_NUMBER = re.compile(
    rf"^(?:{_PREFIX}[\s_:.#-]*)*(\d{{1,3}}(?:\s?[-/–]\s?\d{{1,3}})?\s?(?:[tyw]|m|mo|months?|years?)?)$", re.I
)
_LETTER = re.compile(rf"^(?:{_PREFIX}[\s_:.#-]*)*({'|'.join(_LETTERS)}(?:\s?[-/–]\s?(?:{'|'.join(_LETTERS)}))?)$", re.I)
_AMONG = re.compile(
    r"(?:^|[\s_-])(?:sizes?|sz|gr(?:ö|oe)(?:ß|ss)e|gr|taille|talla|maat)[\s_:.#-]+([A-Za-z0-9/–-]{1,8})(?:$|[\s_,;-])",
    re.I,
)

# What a layer, group or class holds, by words in its name; the first that fits. Common practice, no source.
_SENSES: tuple[tuple[Sense, str], ...] = (
    (
        "ignore",
        r"\b(page ?frame|frame|border|margin|tiles?|page grid|legend|title ?block|watermark|calibration|background)\b",
    ),
    ("ignore", r"\b(test ?square|(test|kontroll)quadrat|(test|proef)vierkant)\b"),
    ("ignore", r"\b(carr[ée] (de )?(test|contr[ôo]le)|cuadrado de (prueba|control))\b"),
    ("notch", r"\b(notch|knips|passzeichen|crans?\b|piquetes?\b|muescas?\b|inkeping|pasteken)"),
    ("grain", r"\b(grain|fadenlauf|droit ?fil|recto ?hilo|hilo\b|draadrichting)"),
    ("fold", r"\b(fold|place on fold|stoffbruch|pliure|doblez|stofvouw)\b"),
    ("seam", r"\b(seam|sewing|stitch(ing)?|sew) ?lines?\b|^(seam|sew|stitch(ing)?)s?$"),
    ("seam", r"\b(naht|n[äa]h|stik|naad)(linien?|lijn(en)?)\b|\blignes? de couture\b|\bl[íi]neas? de costura\b"),
    ("cut", r"\b(schnittlinien?|(snij|knip)lijn(en)?|lignes? de coupe|l[íi]neas? de corte)\b"),
    ("drill", r"\b(drills?|dots?|circles|marks?|buttons?|buttonholes?)\b"),
    ("internal", r"\b(internals?|inside|darts?|pleats?|lengthen|pockets? place|placement)\b"),
    ("internal", r"\b(abn[äa]her|falten?|pinces?|pinzas?|figuurna(ad|den)|plooi(en)?)\b"),
    ("cut", r"\b(cut|cutting|cut ?lines?|cutting ?lines?|outlines?|boundary)\b"),
)


def size_of(name: str) -> str | None:
    """Return the size that a layer's or group's name says, or None.

    >>> size_of("Size 12"), size_of("XL"), size_of("EU 38"), size_of("layer 1"), size_of("path12")
    ('12', 'XL', '38', None, None)
    """
    plain = name.strip().replace("_", " ")
    number = _NUMBER.match(plain)
    if number and int(re.match(r"\d+", number[1])[0]) <= 200:  # type: ignore[index]
        return re.sub(r"\s", "", number[1])
    if letter := _LETTER.match(plain):
        return re.sub(r"\s", "", letter[1]).upper()
    if among := _AMONG.search(plain):
        return size_of(among[1])
    return None


def size_rank(size: str) -> tuple[int, float, str]:
    """Return what sizes are put in order by where nothing else tells: numbers by value, letters from small to large."""
    first = re.split(r"[-/–]", size)[0].upper()
    digits = re.match(r"^\d+", first)
    if first in _LETTER_RANK:
        return (0, _LETTER_RANK[first], size)
    if digits:
        return (1, float(digits[0]), size)
    return (2, 0.0, size)


def sense_of(name: str) -> Sense:
    """Return what a layer, group or class holds by its name.

    >>> sense_of("Seam lines"), sense_of("notches"), sense_of("size 12")
    ('seam', 'notch', '')
    """
    plain = re.sub(r"[_\W]+", " ", name).strip().lower()
    return next((sense for sense, words in _SENSES if re.search(words, plain)), "")


_GENERIC = re.compile(
    r"^(svg|g|group|layer|path|polygon|polyline|rect|use|defs|common|shape|outline|object|drawing|page|block|piece|pattern|pieces"
    r"|view|size|sizes|nested|all|lines?)([ _-]*[\da-f]*)?$",
    re.I,
)


def label_of(name: str) -> str:
    """Return a layer's, group's or line's name where it reads like the name of a piece, else nothing.

    >>> label_of("Front_Bodice"), label_of("path1234"), label_of("Size 12"), label_of("cut lines"), label_of("layer1")
    ('Front Bodice', '', '', '', '')
    """
    plain = re.sub(r"[_-]+", " ", name).strip()
    wordless = not re.fullmatch(r"[^\W\d][\w .()]{2,40}", plain) or bool(re.fullmatch(r"[a-z]+\d+", plain, re.I))
    return "" if wordless or _GENERIC.match(plain) or size_of(plain) or sense_of(plain) else tidy_name(plain)


@dataclass(frozen=True)
class PieceWords:
    """What the words on a piece say; `cut` 0 where they do not."""

    name: str = ""
    number: str = ""
    cut: int = 0
    role: str = ""
    mirrored: bool = False
    on_fold: bool = False
    sizes: tuple[str, ...] = ()


_NOT_NAMES = re.compile(
    r"\b(cut|fold(?![- ]?over)|grain(line)?|straight of|lengthen|shorten|sizes?|pattern piece|view|copyright|page|print(ed)?|test"
    r"|row|column|schnittteil|fadenlauf|nahtzugabe|droit fil|marges?|margen|hilo|draadrichting|naadwaarde|taille|talla|maat"
    r"|allowance|cm|inch|mm|included?|place|rowanseed|interfacing|fabric|main|material|quantity|qty)\b",
    re.I,
)
_OF_AN_EDGE = re.compile(r"\b(no )?(seam|hem) allowance\b", re.I)
_MARK_NAMES = re.compile(
    r"^\W*((centre|center) (front|back)|c\.?[fb]\.?|hem( ?line)?|waist( ?line)?|bust( ?point)?|hip( ?line)?|button(hole)?s?|darts?"
    r"|notch(es)?|match|pleats?|gather|ease|self|pattern|square|seam( line)?|buttons? (and|&) buttonholes?)\W*$",
    re.I,
)
_COUNTED = re.compile(r"^\d+\s?(mm|cm|in\b|\"|x|×|%|/|mal\b|fois\b|ve(?:ces|z)\b|keer\b|times\b)", re.I)
_NUMBERED = re.compile(
    r"^\W*(?:piece|no\.?|nr\.?|#|part|(?:schnitt)?teil|pi[èe]ce|pieza|deel)?\s*[#:.]?\s*(\d{1,3}[a-z]?)\b[\s.:)\-–—]*",
    re.I,
)


def piece_words(lines: list[str]) -> PieceWords:
    """Read the words on a piece: its number and name, how many are cut of what, whether on the fold.

    >>> piece_words(["1 FRONT", "CUT 2", "sizes 8-16"])
    PieceWords(name='Front', number='1', cut=2, role='', mirrored=True, on_fold=False, sizes=())
    >>> piece_words(["3. Collar - cut 1 on fold, 1 interfacing"]).on_fold
    True
    """
    whole = " \n ".join(lines)
    said = cut_said(whole)
    number, name = _number_and_name(lines)
    sizes = tuple(s for line in lines if (s := _size_line(line)) is not None)
    return PieceWords(name, number, said.count, said.role, said.mirrored, said.on_fold, sizes)


def _size_line(line: str) -> str | None:
    said = re.match(r"^\W*sizes?\W{0,3}([A-Za-z0-9/]{1,6})\W*$", line.strip(), re.I)
    return size_of(said[1]) if said else None


def _number_and_name(lines: list[str]) -> tuple[str, str]:
    number = name = ""
    for line in lines:
        labelled = re.match(r"^\W*(?:piece name|name)\W*:\s*(.+)$", line.strip(), re.I)
        if labelled:
            return _split_number(labelled[1], number)
    # What is told of an edge is no name; a name with its number before it is one before all others.
    said_of_pieces = [line for line in lines if not _OF_AN_EDGE.search(line)]
    for line in sorted(said_of_pieces, key=lambda line: not _is_numbered_name(line)):
        rest = line.strip()
        numbered = _NUMBERED.match(rest)
        if numbered and not number and not _COUNTED.match(rest):
            alone = not rest[numbered.end() :].strip()
            if not alone or len(lines) > 1:
                number, rest = numbered[1].upper(), rest[numbered.end() :]
        said = re.split(r"[,;:/|\N{MIDDLE DOT}\N{BULLET}]|\s[-–—]\s", before_cutting(rest), maxsplit=1)[0].strip(
            " .-–—("
        )
        if not name and re.search(r"[^\W\d_]{2}", said) and not _NOT_NAMES.search(said) and not _MARK_NAMES.match(said):
            name = said
    return number, tidy_name(name)


def _is_numbered_name(line: str) -> bool:
    """Whether a line is a piece's number and its name, such as `3 Front`."""
    found = re.match(r"^\W*\d{1,3}[a-z]?[\s.:)\-–—]+([^\W\d_][^\d]+)$", line.strip(), re.I)
    return (
        found is not None
        and not _COUNTED.match(line.strip())
        and not _NOT_NAMES.search(found[1])
        and not _MARK_NAMES.match(found[1])
    )


def _split_number(text: str, number: str) -> tuple[str, str]:
    found = re.match(r"^(\d{1,3}[a-z]?)[\s.:)\-–—]+(.+)$", text.strip(), re.I)
    return (found[1].upper(), tidy_name(found[2])) if found else (number, tidy_name(text))


def tidy_name(name: str) -> str:
    """Return a piece's name as it is written here: "FRONT" and "upper_collar" as "Front" and "Upper collar"."""
    plain = re.sub(r"\s+", " ", name.replace("_", " ")).strip()[:120]
    return plain[:1].upper() + (plain[1:].lower() if plain.isupper() or plain.islower() else plain[1:])
