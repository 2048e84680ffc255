"""From templates to the operations of one garment: each way of working done to each unit, edge and seam that it has."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from rowanseed.core.sew.anatomy import edges_of, layer_of, unit_of
from rowanseed.core.sew.conditions import holds
from rowanseed.core.sew.model import Asked, Doing, Library, Operation, SewnGarment, Template
from rowanseed.core.sew.opening import as_it_opens
from rowanseed.core.sew.stages import stage_of
from rowanseed.core.sew.tools import as_done
from rowanseed.core.sew.units import Assembly, Seam, Unit, runs_on

WORDS = {"leg": "trousers"}


class _Asker:
    """What conditions and names are asked of: a garment's unit."""

    def __init__(self, assembly: Assembly, unit: Unit | None) -> None:
        self.assembly = assembly
        features = unit.features if unit else assembly.garment.features
        self.garment: SewnGarment = replace(assembly.garment, features=features)
        own = {f"is-{unit.name}"} if unit else set()
        self.facts = assembly.facts | own | assembly.unit_facts.get(unit.name if unit else "", frozenset())
        layer = "lining." if unit is not None and unit.layer == "lining" else ""
        first = assembly.units.get(assembly.top or assembly.low)
        arm = "sleeve" if "sleeve" in assembly.units else assembly.top  # the unit that ends at the wrist
        self.names = {
            "u": unit.name if unit else "",
            "top": assembly.top,
            "low": assembly.low,
            "front": first.name if first else "",  # the unit whose front may open
            "arm": arm,
            "layer": layer,
        }

    def holds(self, conditions: Sequence[str], any_: Sequence[str] = ()) -> bool:
        all_hold = all(holds(c, self.garment, self.facts) for c in conditions)
        return all_hold and (not any_ or any(holds(c, self.garment, self.facts) for c in any_))

    def name(self, text: str, seam: Seam | None = None) -> str:
        """A thing's name with this unit's in it."""
        return text.format(seam=seam.thing if seam else "", **self.names)

    def things(self, entries: Sequence[str], seam: Seam | None = None) -> tuple[str, ...] | None:
        """The things of a template that this garment has; None where one is missing that it cannot do without."""
        found: list[str] = []
        for entry in entries:
            text, _, condition = entry.partition(" if ")
            if condition and not self.holds(condition.split(" & ")):
                continue
            optional = text.endswith("?") or bool(condition)
            if text == "{inside}":
                found += [name for each in self.assembly.seams() for name in each.things]
                continue
            if text == "{seam}" and seam is not None:
                found += seam.things
                continue
            thing = self.name(text.removesuffix("?"), seam)
            if thing in FREE or self.assembly.has(thing):
                found.append(thing)
            elif not optional:
                return None
        return tuple(dict.fromkeys(found)) if found or not entries else None


WHOSE = {"cuff": "cuffs'", "strap": "straps'"}  # buttonholes that are named by their bearer
FEW = 2  # seams that are named rather than called the pieces
FIRST_ROWS = {"french": ", wrong sides together, the first row", "felled": ", for felling", "one-pass": ", in one pass"}
HELD = ("baste", "gather", "pleat", "attach")  # what leaves threads that are taken out at the end
FREE = ("pad", "garment")  # things that are no unit of the garment


def operations_of(library: Library, assembly: Assembly) -> list[Operation]:
    """The operations that a garment takes, in the library's order, as they are done on its cloth with the tools in hand."""
    made: list[Operation] = []
    twice = _in_two_units(assembly)
    for template in library.templates:
        found = list(_instances(template, assembly))
        shell = [op.id for op in found if op.layer == "shell"]
        taken = {op.id for op in made}
        for op in found:
            at_home = not _of_units(template) or op.layer == "shell" or template.layers == ("lining",)
            id_ = op.id if at_home and op.id not in taken else f"{op.id}@{op.unit}"
            if id_ in taken:
                id_ = f"{op.id}@{'-'.join(op.on)}"
            taken.add(id_)
            several = shell.count(op.id) > 1 or (bool(template.seams) and op.id.endswith(twice))
            does = _named(op, several) if _of_units(template) else op.does
            made.append(replace(op, id=id_, does=does))
    if not any(op.verb in HELD for op in made):
        made = [op for op in made if op.template != "take-out-basting"]
    return [as_it_opens(as_done(op, assembly.garment), assembly.garment) for op in made]


def _in_two_units(assembly: Assembly) -> tuple[str, ...]:
    """The seams of the shell that two of its units have, as the ids of what is done to them end, however each is sewn."""
    ids = [seam.id for unit, seam in _seams(assembly) if unit is not None and unit.layer == "shell"]
    return tuple(f"-{id_}" for id_ in dict.fromkeys(ids) if ids.count(id_) > 1)


def _of_units(template: Template) -> bool:
    """Whether a template is done to each unit or seam of its kind, and not once to the garment."""
    return bool(template.units or template.seams)


def _named(op: Operation, several: bool) -> Doing:
    """The words of an operation, with the unit where they alone do not say it."""
    unit = op.unit.removeprefix("lining.")
    if op.layer == "lining":
        if "lining" in op.title.lower():
            return op.does
        where = "Lining" if unit in ("body", "skirt", "leg") else f"Lining of the {unit}"
    elif several and unit not in op.title.lower():
        where = WORDS.get(unit, unit).capitalize()
    else:
        return op.does
    return replace(op.does, title=f"{where}: {op.title[0].lower()}{op.title[1:]}")


def _instances(template: Template, assembly: Assembly) -> Iterator[Operation]:
    if template.seams:
        yield from _of_seams(template, assembly)
        return
    if not template.units:
        asker = _Asker(assembly, None)
        if asker.holds(template.when, template.any):
            things = asker.things(template.on)
            if things is not None:
                yield _made(template, asker, things, "garment", None)
        return
    for unit in assembly.units.values():
        if unit.kind not in template.units or unit.layer not in template.layers:
            continue
        asker = _Asker(assembly, unit)
        if not asker.holds(template.when, template.any):
            continue
        things = asker.things(template.on)
        if things is not None:
            yield _made(template, asker, things, unit.name, None)


def _of_seams(template: Template, assembly: Assembly) -> Iterator[Operation]:
    """An operation for each seam that the template fits, or one for all of a layer."""
    found = list(_each_seam(template, assembly))
    if not template.collect:
        yield from (op for _, op in found)
        return
    for layer in ("shell", "lining"):
        own = [(seam, op) for seam, op in found if op.layer == layer]
        if not own:
            continue
        does = own[0][1].does
        of = _of_what(assembly, layer, [seam for seam, _ in own], {op.unit for _, op in own})
        does = replace(does, title=does.title.replace("of the pieces", of))
        things = tuple(dict.fromkeys(thing for _, op in own for thing in op.on))
        yield replace(own[0][1], on=things, does=does)


def _of_what(assembly: Assembly, layer: str, seams: Sequence[Seam], units: set[str]) -> str:
    """Whose edges are finished at once: the pieces', the sleeves' alone, or those of the few seams that lie open."""
    if units == {"sleeve"} and len(assembly.units) > 1:
        return "of the sleeves"
    in_layer = [s for _, s in _seams(assembly) if layer_of(s.thing) == layer and s.method != "covered"]
    sewn = {s.thing for s in in_layer if s.method != "bare"}
    words = list(dict.fromkeys(seam.words.split(",")[0] for seam in seams))
    if len(words) <= FEW and len(sewn) > len(seams):
        return "of the " + " and the ".join(words)
    bare = {unit_of(s.thing) for s in in_layer} - {unit_of(thing) for thing in sewn}
    if bare & {assembly.top, f"lining.{assembly.top}"} and len(units) <= FEW:
        own = [unit.removeprefix("lining.") for unit in assembly.units if unit in units]
        return "of the " + " and the ".join("sleeves" if u == "sleeve" else WORDS.get(u, u) for u in own)
    return "of the pieces"


def _each_seam(template: Template, assembly: Assembly) -> Iterator[tuple[Seam, Operation]]:
    for unit, seam in _seams(assembly):
        wanted = {"*"} if unit is not None else {"+*"}
        wanted.add(seam.id)
        if not wanted & set(template.seams) or f"-{seam.id}" in template.seams:
            continue
        if (template.methods and seam.method not in template.methods) or layer_of(seam.thing) not in template.layers:
            continue
        owner = unit or assembly.units[unit_of(seam.thing)]
        asker = _Asker(assembly, owner)
        things = asker.things(template.on, seam) if asker.holds(template.when, template.any) else None
        if things is not None:
            yield seam, _made(template, asker, things, owner.name, seam)


def _seams(assembly: Assembly) -> Iterator[tuple[Unit | None, Seam]]:
    for unit in assembly.units.values():
        yield from ((unit, seam) for seam in unit.seams.values() if not runs_on(seam))
    yield from ((None, seam) for seam in assembly.joints.values())


def _made(template: Template, asker: _Asker, things: tuple[str, ...], unit: str, seam: Seam | None) -> Operation:
    owner = unit_of(next(edges_of(things[0]))) if things else unit
    owner = owner if owner in asker.assembly.units else unit
    does = _of_seam(template, seam) if seam is not None else template.does
    title = _whose(does.title, things, _bands(asker))
    if asker.holds(["between-legs=seam"]):
        title = title.replace("the hem edge", "the leg openings").replace("the hem's", "the leg openings'")
    elif owner.removeprefix("lining.") == "leg":
        title = title.replace("the lower edge", "the legs' lower edges")
    does = replace(does, title=title, checks=tuple(_that_hold(does.checks, asker)))
    return Operation(
        template.id.format(seam=seam.id) if seam else template.id,
        template.id,
        template.verb,
        owner,
        "lining" if owner.startswith("lining.") else "shell",
        things,
        does,
        asker.things(template.covers, seam) or (),
        tuple(asker.name(space) for space in template.closes),
        tuple(asker.name(space) for space in template.inside),
        stage_of(template.verb) if template.stage is None else template.stage,
        template.flat,
        _asked(template.needs, asker, seam),
        _asked(template.before, asker, seam),
    )


def _bands(asker: _Asker) -> str:
    """Which bands of a lower part are buttoned, in words; several are told as several."""
    legs = asker.holds(["fact:leg-band-buttoned"])
    return "" if not legs else "bands'" if asker.holds(["fact:band-buttoned"]) else "leg bands'"


def _whose(title: str, things: tuple[str, ...], bands: str = "") -> str:
    """The title of what is buttoned, with whose it is where that is no front."""
    bearers = {unit_of(thing) for thing in things if thing.endswith(".buttonhole")}
    if bearers == {"waistband"} and bands:
        return title.replace("the button", f"the {bands} button")
    if bearers == {"waistband"}:
        for many, one in (("the buttonholes", "the band's buttonhole"), ("the buttons", "the band's button")):
            title = title.replace(many, one)
    if len(bearers) == 1 and (whose := WHOSE.get(next(iter(bearers)))):
        return title.replace("the button", f"the {whose} button").replace(
            "sample button", f"sample of the {whose} button"
        )
    return title


def _that_hold(checks: Sequence[str], asker: _Asker) -> Iterator[str]:
    """The checks that this garment has: `[condition & condition] words` is limited to some."""
    for check in checks:
        condition, _, words = check.removeprefix("[").partition("] ") if check.startswith("[") else ("", "", check)
        if not condition or asker.holds(condition.split(" & ")):
            yield words


def _of_seam(template: Template, seam: Seam) -> Doing:
    """The doing of a seam's operation: its words, and what the seam itself has beyond others where it is joined."""
    words = seam.words if template.verb == "join" else seam.words.split(",")[0]
    does = replace(template.does, title=template.title.format(seam=words))
    if template.verb == "join" and len(template.methods) != 1 and seam.method in FIRST_ROWS:
        does = replace(
            does,
            title=does.title + FIRST_ROWS[seam.method],
            numbers=tuple("french-seam" if n == "seam" and seam.method == "french" else n for n in does.numbers),
        )
    kind = seam.kind
    if template.verb != "join" or kind is None:
        return does
    return replace(
        does,
        minutes=kind.minutes,
        numbers=(*does.numbers, *kind.numbers),
        checks=(*kind.checks, *does.checks),
        wrong=(*kind.wrong, *does.wrong),
    )


def _asked(needs: Sequence[Asked], asker: _Asker, seam: Seam | None) -> tuple[Asked, ...]:
    return tuple(
        replace(need, on=asker.name(need.on, seam) if need.on else "", when=())
        for need in needs
        if asker.holds(need.when)
    )
