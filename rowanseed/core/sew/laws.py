"""The laws of construction, applied to the things of one garment: what has to be done before what, and why."""

from collections.abc import Iterable, Mapping, Sequence

from rowanseed.core.sew.anatomy import SMALL, TUBES, edges_of, unit_of
from rowanseed.core.sew.circles import Link, find_circle, topological
from rowanseed.core.sew.model import Asked, Need, Operation
from rowanseed.core.sew.stages import CONSUMING, JOINED, OUTSIDE, TURNED, WORKED
from rowanseed.core.sew.units import Assembly
from rowanseed.core.sew.wording import crossing_law, law_between, why

LAST = 98
PIECED = (-7, -4)  # stages at which a piece is put together before it is used
STAYED = 2  # staystitching, tape: before the piece is handled
LIGHTEST = ("shoulder", "raglan", "side", "waist")  # until these are sewn a piece hangs on nothing
HANDLING = frozenset(
    {"dart", "tuck", "pleat", "gather", "join", "attach", "insert", "face", "cut"}
)  # what pulls a piece through the machine
SEWING = frozenset({"join", "attach", "insert", "face", "bind"})
FASTENING = frozenset({"buttonhole", "button", "fasten"})
FASTENED = (".buttonhole", ".zip", ".slit")
SHRINKING = frozenset({"gather", "ease", "shirr"})  # what makes a flat piece a shaped one
ALONG = (".hem", ".wrist")  # edges between which the seams of a tube run
ZIP_VERBS = ("baste", "press", "insert", "face")  # what puts a zip into its opening


class _Laws:
    """The links between the operations of a garment, each with its law and reason; the first one said stands."""

    def __init__(self, assembly: Assembly, operations: Sequence[Operation]) -> None:
        self.assembly = assembly
        self.operations = operations
        self.links: dict[Link, Need] = {}
        self.on: dict[str, list[Operation]] = {}
        self.touching: dict[str, list[Operation]] = {}
        for op in operations:
            for thing in op.on:
                self.on.setdefault(thing, []).append(op)
                for edge in edges_of(thing):
                    known = self.touching.setdefault(edge, [])
                    if op not in known:
                        known.append(op)

    def need(self, later: Operation, earlier: Operation, law: str, words: str) -> None:
        """Say that an operation needs another; a law stands before the method's wish."""
        link = (later.id, earlier.id)
        turned = self.links.get((earlier.id, later.id))
        if later.id == earlier.id or (turned is not None and (turned.law != "method" or law == "method")):
            return
        if turned is not None:
            del self.links[(earlier.id, later.id)]
        known = self.links.get(link)
        if known is None or (known.law == "method" and law != "method"):
            self.links[link] = Need(earlier.id, words, law)

    def consumers(self, edge: str) -> list[Operation]:
        """What uses an edge up: joins, bands, binds, faces or hems it."""
        touching = self.touching.get(edge, [])
        return [op for op in touching if (op.verb in CONSUMING and op.stage >= JOINED) or _sews_zip(op, edge)]


def _sews_zip(op: Operation, edge: str) -> bool:
    """Whether a zip is sewn to the edge itself, over the ends of the seams there."""
    return op.verb == "insert" and edge in op.on and not edge.endswith(".zip")


def needs_of(assembly: Assembly, operations: Sequence[Operation]) -> dict[str, tuple[Need, ...]]:
    """What each operation needs before it, by the laws; needs that follow from others are left out.

    Raises:
        FeatureError: the needs go round in a circle.
    """
    laws = _Laws(assembly, operations)
    for rule in (
        _asked_for,
        _ages,
        _prepared,
        _basted_on,
        _whole_ends,
        _covered,
        _inside,
        _layers,
        _made_whole,
        _made_before_use,
        _whole_pieces,
        _stayed_first,
        _shaped_flat,
        _finished_flat,
        _zip_edges,
        _flat,
        _tubes,
        _fastened_last,
        _basted_seams,
        _marks,
        _at_the_end,
    ):
        rule(laws)
    return _reduced(operations, laws.links)


def _asked_for(laws: _Laws) -> None:
    """What templates ask for themselves."""
    for op in laws.operations:
        for need in op.needs:
            for other in _meant(laws, need, op):
                laws.need(op, other, need.law, need.why)
        for need in op.before:
            for other in _meant(laws, need, op, users=True):
                laws.need(other, op, need.law, need.why)


def _meant(laws: _Laws, need: Asked, op: Operation, users: bool = False) -> Iterable[Operation]:
    if need.on:
        if need.on in op.on:
            return []  # what is said of every seam of a kind is not said of the seam itself
        if "+" in need.on:
            found = laws.on.get(need.on, [])
        else:
            found = laws.consumers(need.on) if users else laws.touching.get(need.on, [])
        return [o for o in found if o.id != op.id and (users or o.stage <= WORKED or o.verb in ("turn", "close"))]
    named = [o for o in laws.operations if o.template == need.id or o.id == need.id]
    own = [o for o in named if o.unit == op.unit]
    same_layer = [o for o in named if o.layer == op.layer]
    return own or same_layer or named


def _ages(laws: _Laws) -> None:
    """Whatever is done to one thing is done in the order of its life."""
    for thing, ops in laws.on.items():
        for later in ops:
            for earlier in ops:
                if earlier.stage < later.stage:
                    laws.need(later, earlier, law_between(earlier, later), why(laws.assembly, earlier, later, thing))


def _prepared(laws: _Laws) -> None:
    """What is done to a raw edge comes before the edge is used, what is done to a used one after it."""
    for edge in laws.touching:
        for user in laws.consumers(edge):
            for op in laws.touching.get(edge, []):
                if op.stage < JOINED:
                    laws.need(user, op, law_between(op, user), why(laws.assembly, op, user, edge))
                elif edge in op.on and op.stage > user.stage and edge not in user.on:
                    laws.need(op, user, law_between(user, op), why(laws.assembly, user, op, edge))


def _basted_on(laws: _Laws) -> None:
    """A layer or a strap is basted to an edge once both are stayed, pleated and gathered."""
    for op in laws.operations:
        if op.verb != "attach" or op.stage >= JOINED:
            continue
        for edge in {edge for thing in op.on if "+" in thing for edge in edges_of(thing)}:
            for earlier in laws.touching.get(edge, []):
                if earlier.stage < op.stage:
                    laws.need(op, earlier, law_between(earlier, op), why(laws.assembly, earlier, op, edge))


def _whole_ends(laws: _Laws) -> None:
    """Seams and shaping that end on an edge are complete before it is used, but for the seam that a method leaves for last."""
    for seam, ends in laws.assembly.ends().items():
        for edge in ends:
            for user in laws.consumers(edge):
                _cross(laws, seam, edge, user)
    for seam, ends in laws.assembly.ends().items():
        for edge in ends:
            _stayed(laws, seam, edge)
    for edge, ends in laws.assembly.edge_ends().items():
        for end in ends:
            for user in laws.consumers(end):
                for op in laws.touching.get(edge, []):
                    own = any(end in edges_of(thing) for thing in op.on) or any(edge in edges_of(t) for t in user.on)
                    if JOINED <= op.stage <= TURNED and not own:
                        laws.need(user, op, crossing_law(op, user), why(laws.assembly, op, user, edge))


def _stayed(laws: _Laws, seam: str, edge: str) -> None:
    """An edge is stayed before the pieces are handled to sew the seams that end on it."""
    for op in laws.on.get(edge, []):
        if op.verb == "stay" and op.stage == STAYED:
            for join in laws.on.get(seam, []):
                if join.verb == "join" and join.stage >= 0:
                    laws.need(join, op, "stay", why(laws.assembly, op, join, edge))
                elif join.verb == "finish" and join.stage < JOINED:
                    laws.need(join, op, "method", why(laws.assembly, op, join, edge))


def _stayed_first(laws: _Laws) -> None:
    """Edges are stayed before anything else of their piece is sewn, since each handling stretches them."""
    for stay in laws.operations:
        if stay.verb != "stay" or stay.stage != STAYED:
            continue
        units = {unit_of(edge) for thing in stay.on for edge in edges_of(thing)}
        for op in laws.operations:
            own = {unit_of(edge) for thing in op.on for edge in edges_of(thing)}
            if own & units and op.verb in HANDLING and op.stage > STAYED and not set(op.on) & set(stay.on):
                laws.need(op, stay, "method", "Each handling of the piece stretches an edge that is not stayed yet.")


def _shaped_flat(laws: _Laws) -> None:
    """Darts and tucks are sewn and pressed while their piece lies flat, before its seams and its zip."""
    for op in laws.operations:
        darts = op.verb in ("dart", "press") and any(thing.endswith(".dart") for thing in op.on)
        if not darts and (op.verb != "tuck" or op.stage < 0):
            continue
        units = {unit_of(thing) for thing in op.on}
        for join in laws.operations:
            own = {unit_of(edge) for thing in join.on for edge in edges_of(thing)}
            zipped = join.verb == "insert" and any(thing.endswith(".zip") for thing in join.on)
            sewn = join.verb in ("join", "attach", "face") or zipped
            basted = join.verb == "baste" and any(thing.endswith(".side") for thing in join.on)
            if own & units and ((sewn and join.stage >= 0) or basted):
                laws.need(join, op, "method", "Darts and tucks are sewn while the piece lies flat.")


def _basted_seams(laws: _Laws) -> None:
    """What comes before a seam comes before it is basted, since the basting closes the pieces as the seam will."""
    for op in laws.operations:
        seams = {thing for thing in op.on if op.verb == "baste" and "+" not in thing}
        joins = {join.id for thing in seams for join in laws.on[thing] if join.verb == "join" and join.stage >= JOINED}
        for (later, earlier), need in list(laws.links.items()):
            if later in joins and earlier != op.id:
                laws.need(op, next(o for o in laws.operations if o.id == earlier), "method", need.why)


def _finished_flat(laws: _Laws) -> None:
    """Raw edges of pieces are finished before the pieces are gathered, eased to shape or folded across them."""
    for finish in laws.operations:
        if finish.verb != "finish" or finish.stage >= JOINED:
            continue
        units = {unit_of(edge) for thing in finish.on for edge in edges_of(thing)}
        for op in laws.operations:
            own = {unit_of(edge) for thing in op.on for edge in edges_of(thing)}
            folded = op.verb in ("fold", "hem") or (
                op.verb == "press" and any(thing.endswith(ALONG) for thing in op.on)
            )
            if own & units and (folded or op.verb in SHRINKING):
                laws.need(op, finish, "method", "Raw edges are finished while the pieces lie flat as they were cut.")


def _zip_edges(laws: _Laws) -> None:
    """The edges that a zip is sewn to are finished, and the seams that end on them whole, before it covers them."""
    ends = laws.assembly.ends()
    for op in laws.operations:
        zipped = {unit_of(thing) for thing in op.on if op.verb == "insert" and thing.endswith(".zip")}
        for name in zipped & set(laws.assembly.units):
            for seam in laws.assembly.units[name].seams.values():
                if seam.kind is None or not seam.kind.apart:
                    continue
                for earlier in laws.on.get(seam.thing, []):
                    if earlier.verb == "finish" and earlier.stage < JOINED:
                        laws.need(op, earlier, "finish", why(laws.assembly, earlier, op, seam.thing))
                for crossing in (thing for thing, on in ends.items() if seam.thing in on):
                    for earlier in laws.on.get(crossing, []):
                        if 0 <= earlier.stage <= WORKED:
                            words = why(laws.assembly, earlier, op, crossing)
                            laws.need(op, earlier, crossing_law(earlier, op), words)


def _cross(laws: _Laws, seam: str, edge: str, user: Operation) -> None:
    last = (edge, seam) in laws.assembly.last
    for op in laws.on.get(seam, []):
        if op.id == user.id or op.stage > WORKED or op.stage < 0:
            continue
        closing = op.verb == "baste" or (op.verb in ZIP_VERBS and seam.endswith(".zip"))
        if not last or (op.stage < JOINED and not closing):
            laws.need(user, op, crossing_law(op, user), why(laws.assembly, op, user, seam))
    if last:
        own = laws.on.get(seam, [])
        joins = [
            op
            for op in own
            if (op.verb == "join" and op.stage >= JOINED) or (op.verb in ZIP_VERBS and seam.endswith(".zip"))
        ]
        for join in joins:
            for op in laws.touching.get(edge, []):
                if JOINED <= op.stage <= WORKED and not set(op.on) & set(join.on):
                    law = "method" if op.verb in CONSUMING else "crossing"
                    laws.need(join, op, law, why(laws.assembly, op, join, edge))


def _covered(laws: _Laws) -> None:
    """What is done to a thing comes before the step that puts it out of reach."""
    for closing in laws.operations:
        for thing in closing.covers:
            for edge in edges_of(thing):
                for op in laws.touching.get(edge, []):
                    later = (
                        op.verb in OUTSIDE
                        or op.stage > closing.stage
                        or (op.stage == closing.stage and op.layer != closing.layer)
                    )
                    if op.id != closing.id and not later:
                        laws.need(closing, op, _law_of_cover(op, closing), why(laws.assembly, op, closing, thing))


def _law_of_cover(op: Operation, closing: Operation) -> str:
    if op.verb in ("trim", "clip", "grade"):
        return "clip"
    if op.verb == "finish":
        return "finish"
    if closing.verb == "turn":
        return "turn"
    return "inside" if closing.closes else "ends"


def _inside(laws: _Laws) -> None:
    """All that works inside a space comes before the space is closed; what closes it last comes after the rest of its closing."""
    for closing in laws.operations:
        for space in closing.closes:
            for op in laws.operations:
                if space in op.inside and op.id != closing.id:
                    laws.need(
                        closing, op, "inside", f"It is done inside the {space.split('.')[0]}, which is closed here."
                    )


def _layers(laws: _Laws) -> None:
    """What backs a whole piece is on before anything is sewn through the piece."""
    for op in laws.operations:
        backed = {
            unit_of(thing) for thing in op.on if thing.endswith(".layer") and op.verb in ("fuse", "baste", "trim")
        }
        for other in laws.operations if backed else ():
            own = {unit_of(edge) for thing in other.on for edge in edges_of(thing)} & backed
            backing = any(thing.endswith(".layer") for thing in other.on)
            if own and other.stage >= 0 and not backing and other.verb not in ("mark", "sample"):
                laws.need(other, op, "layers", why(laws.assembly, op, other, f"{sorted(own)[0]}.layer"))


def _made_whole(laws: _Laws) -> None:
    """A piece cut in two, or tucked before it is cut to shape, is a whole piece before anything else is done to it."""
    for op in laws.operations:
        if not PIECED[0] <= op.stage <= PIECED[1]:
            continue
        units = {unit_of(edge) for thing in op.on for edge in edges_of(thing)}
        for other in laws.operations:
            own = {unit_of(edge) for thing in other.on for edge in edges_of(thing)}
            if own & units and other.stage > PIECED[1] and other.verb not in ("mark", "sample"):
                laws.need(other, op, "parts", "A piece is made whole before anything else is done to it.")


def _made_before_use(laws: _Laws) -> None:
    """A collar, a pocket, a band is made before it is put to its place."""
    for user in laws.operations:
        units = {unit_of(edge) for thing in user.on for edge in edges_of(thing)}
        if len(units) < 2 or user.verb not in CONSUMING:
            continue
        for unit in units & SMALL:
            for op in laws.operations:
                own = {unit_of(edge) for thing in op.on for edge in edges_of(thing)}
                if own == {unit} and 0 <= op.stage <= TURNED and op.verb not in OUTSIDE - {"topstitch", "decorate"}:
                    laws.need(user, op, "ends", why(laws.assembly, op, user, unit))


def _flat(laws: _Laws) -> None:
    """What is sewn onto a piece comes before the seam that makes a tube of it."""
    for op in laws.operations:
        if not op.flat:
            continue
        for name in {unit_of(edge) for thing in op.on for edge in edges_of(thing)}:
            unit = laws.assembly.units.get(name)
            tube = TUBES.get(unit.kind) if unit else None
            for user in laws.touching.get(f"{name}.{tube}", ()) if tube else ():
                if user.verb == "join" and user.stage >= 0:
                    laws.need(user, op, "flat", why(laws.assembly, op, user, f"{name}.{tube}"))
            for edge in LIGHTEST if tube and op.place == "machine" else ():
                for user in laws.consumers(f"{name}.{edge}"):
                    if user.stage >= JOINED:
                        laws.need(user, op, "method", "A piece is lightest to turn before it hangs on anything.")


def _tubes(laws: _Laws) -> None:
    """Of the seams along a tube all but the last are done with, felled and pressed, before the last one closes it."""
    for unit in laws.assembly.units.values():
        closing = unit.seams.get(TUBES.get(unit.kind, ""))
        if closing is None:
            continue
        along = {edge for edge in closing.ends if edge.endswith(ALONG)}
        for seam in unit.seams.values():
            if seam is closing or seam.thing in closing.ends or closing.thing in seam.ends or not along & {*seam.ends}:
                continue
            if seam.kind is not None and seam.kind.apart:
                continue  # it waits for its zip
            for op in laws.on.get(seam.thing, []):
                for join in laws.on.get(closing.thing, []):
                    if join.verb == "join" and join.stage == JOINED <= op.stage <= WORKED and join is not op:
                        laws.need(join, op, "method", "It is done while the piece still lies open.")


def _whole_pieces(laws: _Laws) -> None:
    """What is done to a whole piece, or to the panel in it, comes before the piece is joined to anything."""
    for op in laws.operations:
        for thing in op.on if op.stage < JOINED else ():
            unit = laws.assembly.top if thing == "panel" else thing
            if unit not in laws.assembly.units or (thing != unit and op.stage < 0):
                continue
            for edge, users in laws.touching.items():
                if unit_of(edge) == unit and edge != unit:
                    for user in users:
                        if user.verb in CONSUMING and user.stage >= JOINED:
                            laws.need(user, op, law_between(op, user), why(laws.assembly, op, user, thing))


def _fastened_last(laws: _Laws) -> None:
    """Buttonholes, buttons, hooks and snaps come once the shell is sewn together."""
    shell = [op for op in laws.operations if JOINED <= op.stage <= WORKED and op.layer == "shell"]
    things = {thing for op in shell if op.verb in SEWING for thing in op.on}
    sewn = [op for op in shell if things & set(op.on)]
    for op in laws.operations:
        if op.phase == "finish" and op.verb in FASTENING and any(thing.endswith(FASTENED) for thing in op.on):
            for other in sewn:
                laws.need(op, other, "method", "The garment is sewn together before it is fastened.")


def _marks(laws: _Laws) -> None:
    """The marks of the pattern are made before a piece is handled."""
    first = next((op for op in laws.operations if op.template == "mark-pieces"), None)
    if first is None:
        return
    for op in laws.operations:
        if op.verb not in ("", "sample", "check"):
            laws.need(
                op, first, "marks", "Marks are made while the tissue is still on; handled pieces lose their place."
            )
    for mark in laws.operations:
        whole = set(mark.on) & set(laws.assembly.units) if mark.verb == "mark" and mark is not first else set()
        for op in laws.operations if whole else ():
            if op.verb not in ("mark", "check") and mark.stage == 0 and mark.place == "table":
                words = "Left and right are told apart while the pieces still lie as they were cut."
                laws.need(op, mark, "method", words)


def _at_the_end(laws: _Laws) -> None:
    """The last pressing and the last checks come after all the rest."""
    for op in laws.operations:
        for other in laws.operations if op.stage >= LAST else ():
            if other.stage < op.stage:
                laws.need(op, other, "complete", "It is the last look at the whole garment.")


def _reduced(operations: Sequence[Operation], links: Mapping[Link, Need]) -> dict[str, tuple[Need, ...]]:
    """The needs without those that follow from others by law."""
    links = _law_before_wish([op.id for op in operations], links)
    order = topological([op.id for op in operations], links)
    links = {**links, **_samples(operations, order, links)}
    place = {id_: k for k, id_ in enumerate(order)}
    needs: dict[str, list[Need]] = {id_: [] for id_ in order}
    for (later, _), need in links.items():
        needs[later].append(need)
    before: dict[str, int] = {}  # all that is needed by law, as bits
    kept: dict[str, tuple[Need, ...]] = {}
    for id_ in order:
        own, reached = [], 0
        for need in sorted(needs[id_], key=lambda n: (n.law == "method", -place[n.id])):
            if not reached >> place[need.id] & 1:
                own.append(need)
                if need.law != "method":
                    reached |= before[need.id] | 1 << place[need.id]
        before[id_] = reached
        kept[id_] = tuple(sorted(own, key=lambda n: place[n.id]))
    return kept


def _law_before_wish(ids: Sequence[str], links: Mapping[Link, Need]) -> dict[Link, Need]:
    """The links without wishes of a method that the laws forbid on this garment."""
    kept = dict(links)
    while circle := find_circle(ids, kept):
        wish = next((link for link in zip(circle, circle[1:], strict=False) if kept[link].law == "method"), None)
        if wish is None:
            break
        del kept[wish]
    return kept


def _samples(operations: Sequence[Operation], order: Sequence[str], links: Mapping[Link, Need]) -> dict[Link, Need]:
    """A stitch or a pressing is tried on a scrap before the first work of its kind."""
    by_id = {op.id: op for op in operations}
    tried = [op for op in operations if op.verb == "sample" and not op.on]
    had: dict[str, set[str]] = {}
    found: dict[Link, Need] = {}
    for id_ in order:
        needed = [earlier for later, earlier in links if later == id_]
        had[id_] = set().union(*(had[n] | {by_id[n].place} for n in needed))
        op = by_id[id_]
        for sample in tried:
            if op.verb != "sample" and op.place == sample.place and op.place not in had[id_] and op.stage >= 0:
                found[(id_, sample.id)] = Need(
                    sample.id, "It is tried on a scrap before the first piece is touched.", "method"
                )
    return found
