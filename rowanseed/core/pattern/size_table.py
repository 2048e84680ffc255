"""A size table as it is pasted or typed in one go: sizes on top or down the side, lines or tables, girths in either unit.

`Size 10 12 14` over `Bust 83 87 92`; or `size bust waist hip` over `10 83 64 88`. Parts stand between tabs, semicolons, bars,
commas or blanks; `32 1/2` is one figure, `83-87` a range as letter sizes have it. What cannot be read is said, line by line.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from rowanseed.core.errors import LengthError
from rowanseed.core.lengths import Length, Unit, parse_length
from rowanseed.core.pattern.model import EnvelopeSize

KEYS: Mapping[str, str] = {
    "bust": "bust", "chest": "bust", "bust/chest": "bust", "bust girth": "bust", "chest girth": "bust", "waist": "waist",
    "waist girth": "waist", "hip": "hip", "hips": "hip", "seat": "hip", "hip girth": "hip", "high bust": "high_bust",
    "upper bust": "high_bust", "height": "height", "body height": "height",
}  # fmt: skip
SIZE_WORDS = frozenset({"size", "sizes"})
FINISHED = re.compile(r"^(?:finished|garment)\s+|\s*\(?\b(?:finished|garment)(?: garment)?\)?$", re.I)
UNIT = re.compile(r"\(?\b(cm|in|ins|inch|inches|mm)\b\)?|[\"”]", re.I)
NUMBER = r"\d+\s+\d+/\d+|\d+-\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?(?:\s*[¼½¾⅛⅜⅝⅞])?"
FIGURE = re.compile(rf"(?:{NUMBER})(?:\s*(?:–|—|-|\bto\b)\s*(?:{NUMBER}))?")
MOST_SIZES = 40
LABEL = re.compile(
    r"^\s*((?:(?:finished|garment)\s+)?(?:"
    + "|".join(sorted((*KEYS, *SIZE_WORDS), key=len, reverse=True))
    + r")\b(?:\s*\(?(?:finished|garment)(?: garment)?\)?)?)",
    re.I,
)
SIZE_NAME = re.compile(
    r"^(?:\d{1,3}[A-Z]{0,2}|[2-6]?X{0,4}[SML]|\d{1,3}/\d{1,3}|[SMLX]+/[SMLX]+|one size)(?:\([^)]*\))?$", re.I
)
LEAST_GIRTH_MM, MOST_GIRTH_MM = 400.0, 2100.0  # a small child's waist to the largest charts; common practice, no source


@dataclass
class SizeTable:
    """What was understood of a table, and what was not: each a sentence for beside the field."""

    sizes: tuple[EnvelopeSize, ...] = ()
    problems: list[str] = field(default_factory=list)
    units: dict[str, Unit] = field(default_factory=dict)

    def echo(self) -> str:
        """What was understood, in words."""
        if not self.sizes:
            return ""
        rows: dict[str, list[str]] = {}
        for size in self.sizes:
            for words, held in (("", size.body), ("finished ", size.finished)):
                for key, length in held.items():
                    end = size.upto.get(key) if not words else None
                    said = f"{length.text} to {end.text}" if end else length.text
                    rows.setdefault(words + key.replace("_", " "), []).append(said)
        told = "; ".join(f"{name} {', '.join(said)}" for name, said in rows.items())
        return f"sizes {', '.join(s.size for s in self.sizes)}: {told}"


Figures = dict[str, list[str]]


def read_size_table(text: str, unit: Unit) -> SizeTable:
    """Read a size table.

    Args:
        unit: of figures where the table names none.
    """
    read = SizeTable()
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if not lines:
        return read
    said = UNIT.search(" ".join(lines))
    own: Unit = unit if said is None else _unit(said[1] or "in")
    head = next((k for k, line in enumerate(lines) if _columns(line) is not None), None)
    if head is not None:
        names, rows = _by_row(lines[head + 1 :], _columns(lines[head]) or [], read)
    else:
        names, rows = _by_column(lines, read, unit)
    if not names:
        read.problems.append("No sizes were found. Begin with a line of sizes, such as “Size 10 12 14 16”.")
    if len(set(names)) != len(names):
        read.problems.append("Two sizes in this table have the same name.")
    if read.problems:
        return read
    read.sizes = tuple(
        _size(name, {key: row[k] for key, row in rows.items()}, own, read) for k, name in enumerate(names)
    )
    if not read.problems:
        read.problems += _doubts(read.sizes)
    return read


def _unit(word: str) -> Unit:
    word = word.lower()
    return "cm" if word == "cm" else "mm" if word == "mm" else "in"


def _columns(line: str) -> list[str] | None:
    """The keys of a line that names measures on top of their columns; None where it is something else."""
    bare = UNIT.sub(" ", line)
    if re.search(r"\d", bare):
        return None
    parts = _parts(bare) if re.search(r"[\t;|,]", bare) else bare.split()
    if not parts or parts[0].lower() not in SIZE_WORDS:
        return None
    keys = [_key(part) for part in parts[1:]]
    return [key for key in keys if key] if keys and all(keys) else None


def _by_row(lines: Sequence[str], keys: Sequence[str], read: SizeTable) -> tuple[list[str], Figures]:
    """A size a line, its figures in the order of the columns."""
    names: list[str] = []
    rows: Figures = {key: [] for key in keys}
    for line in lines:
        first, *rest = _split_once(line)
        figures = _figures(rest[0] if rest else "")
        if len(figures) != len(keys):
            read.problems.append(f"“{line[:60]}”: {len(figures)} figures for {len(keys)} columns.")
            continue
        names.append(first)
        for key, figure in zip(keys, figures, strict=True):
            rows[key].append(figure)
    return names[:MOST_SIZES], rows


def _by_column(lines: Sequence[str], read: SizeTable, unit: Unit) -> tuple[list[str], Figures]:
    """A measure a line, a size a column."""
    names: list[str] = []
    rows: Figures = {}
    for line in lines:
        label, rest = _labelled(line)
        if label in SIZE_WORDS or (not label and not names):
            names = _names(rest)
            continue
        key = _key(label)
        if not key:
            read.problems.append(f"“{line[:60]}”: a line begins with size, bust, waist, hip or height.")
            continue
        figures = _figures(rest)
        if names and len(figures) != len(names):
            read.problems.append(f"{label.capitalize()}: {len(figures)} figures for {len(names)} sizes.")
            continue
        line_unit = UNIT.search(line)
        if key in rows and line_unit is not None and _unit(line_unit[1] or "in") != unit:
            continue  # the same row in the other unit: the one that the household thinks in stands
        if line_unit is not None:
            read.units[key] = _unit(line_unit[1] or "in")
        rows[key] = figures
    return names[:MOST_SIZES], rows


def _labelled(line: str) -> tuple[str, str]:
    """A line's label, without its unit, and the rest; no label where the line begins with figures or sizes."""
    found = LABEL.match(line)
    if found is None:
        return ("", line) if all(SIZE_NAME.match(name) for name in _names(line)) else (line.split()[0].lower(), line)
    return _bare(found[1]), UNIT.sub(" ", line[found.end() :]).strip(" :;|,\t")


def _bare(label: str) -> str:
    return re.sub(r"\s+", " ", UNIT.sub(" ", label)).strip(" :;,.()\t").lower()


def _split_once(line: str) -> list[str]:
    parts = _parts(line) if re.search(r"[\t;|]", line) else line.split(None, 1)
    return [parts[0].strip(" :,"), " ".join(parts[1:])] if len(parts) > 1 else parts


def _parts(line: str) -> list[str]:
    return [part.strip() for part in re.split(r"[\t;|]|,(?=\s)|(?<!\d),", line) if part.strip()]


def _names(text: str) -> list[str]:
    """The names of sizes: between tabs, semicolons and commas, else between blanks; `S (8-10)` is one."""
    text = re.sub(r"\s*([(][^)]*[)])", r"\1", text)
    parts = _parts(text) if re.search(r"[\t;|]|,", text) else text.split()
    return [part.strip(" .") for part in parts if part.strip(" .")]


def _figures(text: str) -> list[str]:
    """The figures of a line, each as it stands: between its signs where it has them, else one after the other."""
    bare = UNIT.sub(" ", text)
    if re.search(r"[\t;|]|,\s", bare):
        return [part for part in _parts(bare) if re.search(r"\d", part)]
    return [found[0].strip() for found in FIGURE.finditer(bare)]


def _key(label: str) -> str:
    """The measure that a label names, `finished_` before it where it is the garment's; empty where it is none."""
    words = _bare(label)
    bare = re.sub(r"\s+", " ", FINISHED.sub("", words)).strip()
    known = KEYS.get(bare, "")
    return f"finished_{known}" if known and bare != words else known


def _size(name: str, figures: Mapping[str, str], unit: Unit, read: SizeTable) -> EnvelopeSize:
    held: dict[str, dict[str, Length]] = {"body": {}, "finished": {}}
    upto: dict[str, Length] = {}
    for key, text in figures.items():
        kind, bare = ("finished", key.removeprefix("finished_")) if key.startswith("finished_") else ("body", key)
        try:
            low, high = _range(text, read.units.get(key, unit))
        except LengthError as error:
            read.problems.append(f"{bare.capitalize()} of size {name}, “{text[:20]}”: {error.text}")
            continue
        held[kind][bare] = low
        if high is not None and kind == "body":
            upto[bare] = high
    return EnvelopeSize(name, held["body"], held["finished"], upto)


def _range(text: str, unit: Unit) -> tuple[Length, Length | None]:
    ends = re.match(rf"^({NUMBER})\s*(?:–|—|-|\bto\b)\s*({NUMBER})$", text)
    if ends and not re.match(r"^\d+-\d+/\d+$", text):
        low, high = (_length(end, unit) for end in ends.groups())
        if high.mm > low.mm:
            return low, high
    return _length(text, unit), None


def _length(text: str, unit: Unit) -> Length:
    read = parse_length(text, unit)
    return Length(read.mm, f"{text} {unit}", unit)


def _doubts(sizes: Sequence[EnvelopeSize]) -> list[str]:
    """What can hardly be meant: figures that fall, and girths that no body has."""
    said: list[str] = []
    for key in {k for s in sizes for k in s.body}:
        row = [(s.size, s.body[key]) for s in sizes if key in s.body]
        fallen = next(((a, b) for a, b in zip(row, row[1:]) if b[1].mm < a[1].mm), None)
        words = key.replace("_", " ")
        if fallen:
            said.append(
                f"The {words} falls from size {fallen[0][0]} to size {fallen[1][0]}: list the smallest size first."
            )
        odd = next((at for at in row if key != "height" and not LEAST_GIRTH_MM <= at[1].mm <= MOST_GIRTH_MM), None)
        if odd and not fallen:
            other = "inches" if odd[1].unit == "cm" else "centimetres"
            said.append(f"A {words} of {odd[1].text} in size {odd[0]} is nobody's: is the table in {other}?")
    return said
