"""A lay as SVG, to scale with rulers, fold, selvages, grain arrows and distances.

Every drawing is in millimetres of cloth; text is escaped; no style attributes, so that a strict policy shows it as it is.
"""

from collections.abc import Callable, Sequence
from xml.etree.ElementTree import Element

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.lay.model import Lay, Placement
from rowanseed.core.lay.on_cloth import lane_origin
from rowanseed.core.lay.reading import GRAIN_FOOT, GRAIN_HEAD, GrainReading, PieceReading, on_table, table_y
from rowanseed.core.lengths import MM_PER, Unit, format_length
from rowanseed.formats.drawing import Drawn, markup, tag
from rowanseed.formats.label_place import label_place, middle_of
from rowanseed.formats.piece_svg import INK, ROWAN, SLATE, arrow, path
from rowanseed.formats.print_svg import moved_tile, print_tile

SOFT, HAIR, STRAW = "#5E554B", "#D8CFBF", "#C98A1B"
Titles = Callable[[str], tuple[str, str]]


def _rect(x: float, y: float, width: float, height: float, **how: str) -> Drawn:
    """A rectangle on the cloth, mm."""
    return tag("rect", x=f"{x:.1f}", y=f"{y:.1f}", width=f"{width:.1f}", height=f"{height:.1f}", **how)


class LayDrawing:
    """A lay as one SVG: cloth with its print, pieces as translucent paper, rulers in the user's unit.

    Lanes lie on the table as the cloth does: side by side, or one after the other along it. `fold_mm`: where it is folded on a
    bar, from its edge.
    """

    def __init__(
        self,
        lay: Lay,
        cloth: Cloth,
        unit: Unit,
        titles: Titles,
        length_in_hand: float | None,
        fold_mm: float | None = None,
    ) -> None:
        self.lay = lay
        self.fold_mm = fold_mm
        self.cloth = cloth
        self.unit = unit
        self.titles = titles
        self.width = max(lane.to_mm for lane in lay.lanes)
        self.in_hand = length_in_hand
        if length_in_hand is not None and lay.spread == "crosswise-fold":
            self.in_hand = length_in_hand / 2
        self.end = max(lane.end_mm for lane in lay.lanes)
        self.length = max(self.end, min(self.in_hand or 0.0, self.end * 1.12), 300.0)
        self.text = max(16.0, min(self.length, 3200.0) * 0.0145)

    def table(self, room: float = 0.0) -> str:
        """The cloth alone, spread on the table, for pieces to be drawn over; `room`: so much longer than the lay."""
        self.length = max(self.length, self.end * (1.0 + room))
        return markup(self._sheet((), over=[tag("g", data_pieces="")], role="group"))

    def svg(self, readings: Sequence[PieceReading], to_size: bool = False, focus: int | None = None) -> str:
        """The whole drawing.

        Args:
            to_size: as a file of its own, one millimetre of it a millimetre of cloth.
            focus: the number of the one piece that stands out; 0 for none of them.
        """
        # On the page the pieces are links, so it is a group of things and not one picture.
        return markup(self._sheet(readings, to_size, focus=focus, role="img" if to_size else "group"))

    def _sheet(
        self,
        readings: Sequence[PieceReading],
        to_size: bool = False,
        over: Drawn = (),
        focus: int | None = None,
        role: str = "img",
    ) -> Element:
        """The drawing; `over`: what is drawn on top, in place of the line where the lay ends."""
        t = self.text
        left, top = t * 5.6, t * 3.2
        width, height = self.length + left + t * 2, self.width + top + t * 2.6
        label = (
            f"Cutting layout, {format_length(self.lay.length_mm, self.unit)} long on cloth "
            f"{format_length(self.cloth.width.mm, self.unit)} wide; the table below says the same in words."
        )
        body: list[Drawn] = [self._lane(k) for k in range(len(self.lay.lanes))]
        body += [self._rulers(), self._short()]
        body += [self._focused(reading, focus) for reading in readings]
        body.append(self._refold())
        body.append(over or self._end())
        sheet = tag(
            "svg",
            tag("defs", self._tiles()),
            *body,
            role=role,
            aria_label=label,
            xmlns="http://www.w3.org/2000/svg",
            viewBox=f"{-left:.0f} {-top:.0f} {width:.0f} {height:.0f}",
        )
        for side, mm in (("width", width), ("height", height)) if to_size else ():
            sheet.set(side, f"{mm:.0f}mm")
        return sheet

    def _tiles(self) -> Drawn:
        """The print as it runs through each lane: it counts from the open cloth's edge, the lane from its fold or selvage."""
        tiles: list[Drawn] = [print_tile(self.cloth, "cloth-print")]
        fold = self.fold_mm if self.fold_mm is not None else self.cloth.width.mm / 2
        for number in range(len(self.lay.lanes)):
            shift = table_y(self.lay, number, 0.0) - lane_origin(self.lay, number, self.cloth.width.mm, fold)
            tiles.append(moved_tile(self.cloth, f"cloth-print-{number}", "cloth-print", (1, 0, 0, 1, 0, shift)))
        return tiles

    def _lane(self, number: int) -> Drawn:
        """A lane's cloth, its two long edges named, its selvage shaded, its fold drawn thick, its layers in words."""
        lane = self.lay.lanes[number]
        start = lane.start_mm
        end = self.length if lane.end_mm >= self.end - 1e-6 else lane.end_mm
        width = lane.to_mm - lane.from_mm
        whole = (start, lane.from_mm, max(end - start, 0), width)
        out: list[Drawn] = [_rect(*whole, fill=f"url(#cloth-print-{number})", stroke=SOFT, stroke_width="1.5")]
        if lane.layers == 2:
            out.append(_rect(*whole, fill=INK, opacity=".06"))
        first, second = (0.0, width)
        out += [self._edge(number, edge, y, start, end) for edge, y in zip(lane.edges, (first, second), strict=True)]
        layers = "two layers, right sides together" if lane.layers == 2 else "one layer, right side up"
        if width > self.text * 18:
            middle = (lane.from_mm + lane.to_mm) / 2
            x = -self.text * 3.1 if start == 0 else start + self.text * 1.2
            out.append(
                tag(
                    "text",
                    layers,
                    transform="rotate(-90)",
                    x=f"{-middle:.1f}",
                    y=f"{x:.1f}",
                    font_size=f"{self.text:.1f}",
                    text_anchor="middle",
                )
            )
        return out

    def _edge(self, number: int, edge: str, y: float, start: float, end: float) -> Drawn:
        """One long edge of a lane."""
        lane = self.lay.lanes[number]
        width = lane.to_mm - lane.from_mm
        at = table_y(self.lay, number, y)
        inward = 1.0 if (at < (lane.from_mm + lane.to_mm) / 2) else -1.0
        strip = self.cloth.selvage.mm
        out: list[Drawn] = []
        if edge == "selvage" and strip:
            top = min(at, at + inward * strip)
            out.append(_rect(start, top, end - start, strip, fill="#fff", opacity=".65"))
        thick, colour = (7, SLATE) if edge == "fold" else (2.5, INK)
        out.append(tag("path", d=f"M{start:.1f} {at:.1f}H{end:.1f}", stroke=colour, stroke_width=thick))
        if width > self.text * 2.6:
            word = at + (self.text * 1.15 if inward > 0 else -self.text * 0.35)
            x = -self.text * 0.5 if start == 0 else start + self.text * 0.4
            anchor = "end" if start == 0 else "start"
            out.append(
                tag(
                    "text",
                    edge,
                    x=f"{x:.1f}",
                    y=f"{word:.1f}",
                    font_size=f"{self.text:.1f}",
                    text_anchor=anchor,
                    font_weight="700",
                )
            )
        return out

    def _rulers(self) -> Drawn:
        step = 100.0 if self.unit == "cm" else 5 * MM_PER["in"]
        out: list[Drawn] = []
        t = self.text
        every = max(1, round(self.length / step / 14))
        for k in range(int(self.length // step) + 1):
            x, big = k * step, k % every == 0
            out.append(tag("path", d=f"M{x:.1f} {-t * (0.7 if big else 0.4):.1f}V0", stroke=INK, stroke_width="1.5"))
            if big:
                mark = format_length(x, self.unit).split(" ")[0] if x else f"0 {self.unit}"
                out.append(
                    tag(
                        "text",
                        mark,
                        x=f"{x:.1f}",
                        y=f"{-t * 0.95:.1f}",
                        font_size=f"{t * 0.9:.1f}",
                        text_anchor="middle",
                    )
                )
        for k in range(1, int(self.width // step) + 1):
            y = k * step
            if t * 1.8 < y < self.width - t * 1.6:
                out.append(tag("path", d=f"M{-t * 0.5:.1f} {y:.1f}H0", stroke=INK, stroke_width="1.5"))
                mark = format_length(y, self.unit).split(" ")[0]
                out.append(
                    tag(
                        "text",
                        mark,
                        x=f"{-t * 0.7:.1f}",
                        y=f"{y + t * 0.33:.1f}",
                        font_size=f"{t * 0.9:.1f}",
                        text_anchor="end",
                    )
                )
        return out

    def _short(self) -> Drawn:
        """Where the cloth in hand ends before the lay does."""
        if self.in_hand is None or self.in_hand >= self.end - 1e-6:
            return []
        x = self.in_hand
        return [
            tag(
                "rect",
                x=f"{x:.1f}",
                y="0",
                width=f"{self.length - x:.1f}",
                height=f"{self.width:.1f}",
                fill="#F9E6DF",
                opacity=".82",
            ),
            tag("path", d=f"M{x:.1f} {-self.text * 1.9:.1f}V{self.width:.1f}", stroke=ROWAN, stroke_width="5"),
            tag(
                "text",
                "the cloth in hand ends",
                x=f"{x - self.text * 0.4:.1f}",
                y=f"{-self.text * 2.1:.1f}",
                font_size=f"{self.text:.1f}",
                text_anchor="end",
                font_weight="700",
            ),
        ]

    def _end(self) -> Drawn:
        x = self.end
        words = f"lay ends at {format_length(x, self.unit)}"
        if self.lay.spread == "crosswise-fold":
            words = f"fold here: {format_length(self.lay.length_mm, self.unit)} of cloth in all"
        return [
            tag(
                "path",
                d=f"M{x:.1f} 0V{self.width + self.text:.1f}",
                stroke=INK,
                stroke_width="2.5",
                stroke_dasharray="14 8",
            ),
            tag(
                "text",
                words,
                x=f"{x:.1f}",
                y=f"{self.width + self.text * 2.05:.1f}",
                font_size=f"{self.text:.1f}",
                text_anchor="end",
                font_weight="700",
            ),
        ]

    def _refold(self) -> Drawn:
        """Where a folded part ends and the cloth is cut off and opened."""
        if self.lay.spread != "fold-then-single":
            return []
        x = self.lay.lanes[0].end_mm
        return [
            tag(
                "path",
                d=f"M{x:.1f} {-self.text * 2.2:.1f}V{self.width + self.text * 0.6:.1f}",
                stroke=SLATE,
                stroke_width="5",
                stroke_dasharray="22 9",
            ),
            tag(
                "text",
                "cut off here, open the rest",
                x=f"{x + self.text * 0.4:.1f}",
                y=f"{-self.text * 2.1:.1f}",
                font_size=f"{self.text:.1f}",
                font_weight="700",
            ),
        ]

    def _focused(self, reading: PieceReading, focus: int | None) -> Drawn:
        """A piece as the table view shows it: the one to be placed strong, those before it plain, those to come faint."""
        if focus is None or reading.number == focus:
            return tag("g", self._piece(reading, ROWAN, "8"), data_focus="") if focus else self._piece(reading)
        return tag("g", self._piece(reading), opacity=0.75 if reading.number < focus else 0.28)

    def _piece(self, reading: PieceReading, ink: str = INK, line: str = "2.2") -> Drawn:
        placement = on_table(self.lay, reading.placement)
        number, name = self.titles(placement.piece)
        fill = "#FDFAF3" if not placement.face_down else "#D9D2C4"
        title = f"{number} {name}: {reading.how}"
        outline = path(placement.outline)
        parts: list[Drawn] = [
            tag("title", title),
            tag("path", d=outline, fill=fill, fill_opacity=".86", stroke=ink, stroke_width=line),
        ]
        if placement.on_fold:
            xs = [x for x, y in reading.placement.outline if y < 0.05]
            fold = table_y(self.lay, placement.lane, 0.0)
            parts.append(tag("path", d=f"M{min(xs):.1f} {fold:.1f}H{max(xs):.1f}", stroke=SLATE, stroke_width="9"))
        parts.append(self._grain(placement, reading.grain))
        parts.append(self._words(placement, number, name))
        return tag("a", *parts, href=f"#row-{reading.number}")

    def _grain(self, placement: Placement, reading: GrainReading | None) -> Drawn:
        head, foot = placement.marks.get(GRAIN_HEAD), placement.marks.get(GRAIN_FOOT)
        if head is None or foot is None or reading is None:
            return []
        out = [arrow(head, foot, 1.8, INK)]
        size = self.text * 0.78
        length = abs(foot[0] - head[0])
        if length > size * 7:
            for (x, y), mm in ((head, reading.head_mm), (foot, reading.foot_mm)):
                inward = 1 if (x < (head[0] + foot[0]) / 2) else -1
                anchor = "start" if inward > 0 else "end"
                words = format_length(mm, self.unit, 8)
                out.append(
                    _label(
                        words,
                        x=f"{x + inward * size * 0.5:.1f}",
                        y=f"{y - size * 0.45:.1f}",
                        font_size=f"{size:.1f}",
                        text_anchor=anchor,
                    )
                )
        return out

    def _words(self, placement: Placement, number: str, name: str) -> Drawn:
        """The piece's number, its name and how it lies, where they fit beside the grain arrow."""
        big, small = self.text * 1.5, self.text * 0.86
        notes = [name]
        if placement.face_down and not placement.on_fold:
            notes.append("printed side down")
        if self.lay.lanes[placement.lane].layers == 2 and placement.layers == 1:
            notes.append("one layer")
        head, foot = placement.marks.get(GRAIN_HEAD), placement.marks.get(GRAIN_FOOT)
        arrow = (head[1] + foot[1]) / 2 if head and foot and not placement.on_fold else None
        for lines, figure in ((notes, big), (notes[:1], big), ([], big), ([], small)):
            height = figure + small * 1.2 * len(lines)
            width = max([0.62 * figure * len(number), *(0.52 * small * len(line) for line in lines)])
            spot = label_place(placement.outline, width, height, arrow, small)
            if spot is not None:
                break
        x, y = spot or middle_of(placement.outline)
        top = y - height / 2 + figure * 0.85
        out: list[Drawn] = [
            _label(
                number,
                x=f"{x:.1f}",
                y=f"{top:.1f}",
                font_size=f"{figure:.1f}",
                text_anchor="middle",
                font_weight="700",
            )
        ]
        out += [
            _label(
                line,
                x=f"{x:.1f}",
                y=f"{top + k * small * 1.2:.1f}",
                font_size=f"{small:.1f}",
                text_anchor="middle",
            )
            for k, line in enumerate(lines, start=1)
        ]
        return out


def _label(words: str, **place: str) -> Element:
    """Words on a piece, with a rim of its colour, so that they are read over any print."""
    rim = f"{0.22 * float(place['font_size']):.1f}"
    return tag(
        "text", words, paint_order="stroke", stroke="#FDFAF3", stroke_width=rim, stroke_linejoin="round", **place
    )
