"""The steps of seams: sewn and finished, made and turned, sewn on; a folded band closed by the row that sews it on."""

from collections.abc import Sequence

from rowanseed.core.sew.model import Need, Place
from rowanseed.core.sew.pieces.making import Made, StepsAsked, add, seam_words, slug_of, words_of
from rowanseed.core.sew.pieces.model import PiecedGarment, StackedSeam

ENCLOSES_EDGE = frozenset({"waistband", "cuff", "band", "pocket", "tab", "strap", "belt", "tie", "placket"})


TURNED = frozenset({"collar", "stand", "cuff", "strap", "tie", "tab", "belt", "flap", "hood"})


def sew_seams(made: Made, asked: StepsAsked, seams: Sequence[StackedSeam]) -> None:
    """The steps of a seam, or of those of both sides: made, sewn, trimmed and turned, or finished and pressed."""
    g = asked.garment
    edges = list(dict.fromkeys(e for s in seams for e in s.edges))
    parts = {(g.piece_of(e).unit, g.piece_of(e).layer) for e in edges}
    why = "Shaping is there before the edge is used: its length comes from it."
    needs = tuple(Need(id_, why, "shape") for e in edges for id_ in made.whole.get(e, ()))
    if len(parts) > 1:
        _between(made, asked, seams, needs)
    elif g.piece_of(edges[0]).unit in TURNED:
        _made_alone(made, g, seams, needs)
    else:
        _within(made, asked, seams, needs)


def _things(seams: Sequence[StackedSeam]) -> tuple[str, ...]:
    return tuple("+".join(seam.edges) for seam in seams)


def _within(made: Made, asked: StepsAsked, seams: Sequence[StackedSeam], needs: tuple[Need, ...]) -> None:
    g, piece = asked.garment, asked.garment.piece_of(seams[0].edges[0])
    name, thing, slug = seam_words(g, seams), _things(seams), slug_of(seams[0].edges[0])
    done = [add(made, f"sew-{slug}", "join", f"Sew {name}", thing, "machine", "join", piece, after=needs)]
    if piece.layer != "lining" and not piece.small:
        place: Place = "overlocker" if asked.overlocker else "machine"
        how = "Overlock" if asked.overlocker else "Zigzag"
        sewn = Need(done[-1], "It is sewn first.", "finish")
        done.append(
            add(
                made,
                f"finish-{slug}",
                "finish",
                f"{how} {name}, both edges together",
                thing,
                place,
                "join",
                piece,
                after=(sewn,),
            )
        )
    before = Need(done[-1], "It is pressed once its raw edges are finished.", "finish")
    done.append(add(made, f"press-{slug}", "press", f"Press {name}", thing, "iron", "join", piece, after=(before,)))
    _uses(made, seams, done)
    if piece.small:
        made.pieces.setdefault(piece.id, []).append(done[-1])


def _made_alone(made: Made, g: PiecedGarment, seams: Sequence[StackedSeam], needs: tuple[Need, ...]) -> None:
    """A small part is sewn round, trimmed, turned and pressed before it goes on."""
    piece = g.piece_of(seams[0].edges[0])
    thing, slug, name = _things(seams), slug_of(seams[0].edges[0]), seam_words(g, seams)
    join = add(made, f"sew-{slug}", "join", f"Sew {name}", thing, "machine", "flat", piece, after=needs)
    steps = [join]
    for id_, verb, title, place, why, law, covers in (
        (f"trim-{slug}", "trim", f"Trim, layer and clip {name}", "table", "It is sewn before it is trimmed.", "clip", ()),
        (f"turn-{slug}", "turn", f"Turn the {piece.unit} and ease out its corners", "table",
         "The allowances are cut back while the scissors reach them.", "clip", thing),
        (f"press-{slug}", "press", f"Press the {piece.unit}, its seam on the edge", "iron", "It is turned first.", "turn", ()),
    ):  # fmt: skip
        at: Place = "iron" if place == "iron" else "table"
        steps.append(
            add(made, id_, verb, title, thing, at, "flat", piece, after=(Need(steps[-1], why, law),), covers=covers)
        )
    _uses(made, seams, steps)
    for edge in {e for s in seams for e in s.edges}:
        made.pieces.setdefault(g.piece_of(edge).id, []).append(steps[-1])


def _between(made: Made, asked: StepsAsked, seams: Sequence[StackedSeam], needs: tuple[Need, ...]) -> None:
    """A part is sewn to another; a folded band that lies on both sides is closed by the same row."""
    g = asked.garment
    edges = list(dict.fromkeys(e for s in seams for e in s.edges))
    part = next((g.piece_of(e) for e in edges if g.piece_of(e).small), g.piece_of(edges[0]))
    own = [e for e in edges if (g.piece_of(e).unit, g.piece_of(e).layer) == (part.unit, part.layer)]
    others = [e for e in edges if e not in own]
    twice = any(
        sum(g.piece_of(e).id == g.piece_of(one).id for e in s.edges) > 1 for s in seams for one in own if one in s.edges
    )
    thing, slug = _things(seams), slug_of(own[0])
    words = (
        f"Sew {words_of(g, own[:1] if twice else own)} to {words_of(g, others)}"
        if others
        else f"Sew {words_of(g, own)}"
    )
    if twice:
        words += f", both layers of the {part.unit} in one row"
        title = f"Fold and press the {part.id.replace('-', ' ')} lengthwise, its allowances and ends in"
        folded = add(made, f"fold-{slug_of(part.id)}", "fold", title, tuple(own), "iron", "flat", part)
        needs = (*needs, Need(folded, "The band is folded before it takes the edge in.", "parts"))
    verb = "attach" if part.unit in ENCLOSES_EDGE else "join"
    covers, closes = (tuple(edges), (part.unit,)) if twice else ((), ())
    id_ = add(
        made, f"{verb}-{slug}", verb, words, thing, "machine", "attach", part, after=needs, covers=covers, closes=closes
    )
    done = [id_]
    name = f"the seam of {words_of(g, own)}"
    if not twice and part.small:
        why = "The allowances are cut back while the scissors reach them."
        done.append(add(made, f"grade-{slug}", "grade", f"Layer {name} and clip its curves", thing, "table", "attach", part,
                         after=(Need(id_, "It is sewn first.", "clip"),)))  # fmt: skip
        if part.unit == "facing":
            title, cut = f"Understitch {words_of(g, own)}", (Need(done[-1], why, "clip"),)
            done.append(
                add(made, f"understitch-{slug}", "understitch", title, thing, "machine", "attach", part, after=cut)
            )
            title, out = (
                "Turn the facing to the inside",
                (Need(done[-1], "The row is sewn while it lies out.", "through"),),
            )
            done.append(
                add(made, f"turn-{slug}", "turn", title, thing, "table", "attach", part, after=out, covers=thing)
            )
    elif not twice and part.layer != "lining":
        place: Place = "overlocker" if asked.overlocker else "machine"
        done.append(add(made, f"finish-{slug}", "finish", f"Finish {name}, both edges together", thing, place, "attach", part,
                         after=(Need(id_, "It is sewn first.", "finish"),)))  # fmt: skip
    done.append(add(made, f"press-{slug}", "press", f"Press {name}", thing, "iron", "attach", part,
                     after=(Need(done[-1], "It is pressed once its allowances are done.", "finish"),)))  # fmt: skip
    _uses(made, seams, done)


def _uses(made: Made, seams: Sequence[StackedSeam], done: Sequence[str]) -> None:
    for edge in dict.fromkeys(e for s in seams for e in s.edges):
        made.used[edge] = done[0]
        made.whole.setdefault(edge, []).extend(done)
