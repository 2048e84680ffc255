"""A second judge of orders, written from what seams and rooms are alone; it imports nothing of the sewing core.

A garment is a dictionary of sheets with their edges in order (counter-clockwise on the right side) and one of lines, each a list of
`+sheet.edge` or `-sheet.edge` from the bottom. Rooms are the connected parts of a graph of sheet sides (networkx); an unsewn edge
joins the two sides of its sheet. Widths are not looked at: a way is there or it is not.
"""

import networkx as nx

ROWS = {"join", "attach", "close", "face"}
ENDS = {"hem", "bind", "rib", "casing", "insert"}
SHAPES = {"gather", "dart", "pleat", "tuck", "ease"}
CUTS = {"trim", "clip", "grade", "finish", "understitch"}
OUTSIDE = {"edge", "hand", "ditch"}


class Judge:
    """Half-made cloth, judged step by step."""

    def __init__(self, sheets, lines, turned):
        self.sheets, self.lines = sheets, lines
        self.where = {page[1:]: line for line, pages in lines.items() for page in pages}
        self.sewn = {line: [] for line in lines}
        self.ended, self.to_turn = set(), set(turned)

    def graph(self):
        """Sides that lie in one room, or between which an unsewn edge lets one through."""
        graph = nx.Graph()
        graph.add_nodes_from((sheet, side) for sheet in self.sheets for side in "RW")
        for line, pages in self.lines.items():
            here = [page for page in pages if page in self.sewn[line]]
            if len(here) < 2:
                continue
            for low, high in zip(here, here[1:] + here[:1], strict=True):
                top = (low[1:].rpartition(".")[0], "R" if low[0] == "+" else "W")
                bottom = (high[1:].rpartition(".")[0], "W" if high[0] == "+" else "R")
                graph.add_edge(top, bottom)
        taken = {page[1:] for pages in self.sewn.values() for page in pages}
        for sheet, names in self.sheets.items():
            if any(f"{sheet}.{name}" not in taken for name in names):
                graph.add_edge((sheet, "R"), (sheet, "W"))
        return graph

    def allowances(self, line):
        """The side that looks at a line's allowances: the upper one of its last page."""
        last = [page for page in self.lines[line] if page in self.sewn[line]][-1]
        return last[1:].rpartition(".")[0], "R" if last[0] == "+" else "W"

    def shut(self, side):
        """Whether no way leads from a side to what the wearer shows of all that hangs together with it."""
        pieces = nx.Graph()
        pieces.add_nodes_from(self.sheets)
        for pages in self.sewn.values():
            nx.add_path(pieces, [page[1:].rpartition(".")[0] for page in pages])
        together = nx.node_connected_component(pieces, side[0])
        outside = next(sheet for sheet in self.sheets if sheet in together), "R"
        return not nx.has_path(self.graph(), side, outside)

    def sees(self, side):
        """Whether a side is in reach; where widths do not count, that is where it is not shut in."""
        return not self.shut(side)

    def held_twice(self, channel):
        """Whether what would be drawn through a channel hangs by another way too: cut at the channel, it is still one."""
        pieces, ends = nx.Graph(), set()
        pieces.add_nodes_from(self.sheets)
        for line, pages in self.sewn.items():
            names = [page[1:].rpartition(".")[0] for page in pages]
            if line not in channel:
                nx.add_path(pieces, names)
            elif len(names) > 1:
                ends |= set(names)
        return bool(ends) and ends <= nx.node_connected_component(pieces, min(ends))

    def refuses(self, verb, way, things, catches, channels=()):
        """Why this step cannot be done: a word, or none; if it can, it is done."""
        if verb in ROWS and any(thing in self.lines for thing in things):
            return self.row(way, things, catches)
        for thing in things:
            line = thing if thing in self.lines else self.where.get(thing)
            row = self.sewn.get(line, [])
            if verb in ENDS:
                if thing in self.ended or any(page[1:] == thing for page in row):
                    return "there"
                if self.shut((thing.rpartition(".")[0], "W")):
                    return "reach"
            elif verb in ("fuse", "baste") and thing in self.sheets:
                taken = {page[1:].rpartition(".")[0] for pages in self.sewn.values() for page in pages}
                if thing in taken:
                    return "layers"
            elif verb in SHAPES:
                caught = {page[1:] for page in row} if any(page[1:] == thing for page in row) else set()
                if thing in self.ended or not caught <= set(things):
                    return "length"
            elif verb == "press" and way in OUTSIDE:
                if thing in self.lines and len(row) < 2:
                    return "there"
            elif verb in CUTS or verb == "press":
                if len(row) < 2:
                    if thing in self.lines or (thing in self.ended and verb != "press"):
                        return "there"
                elif not self.sees(self.allowances(line)):
                    return "reach"
            elif verb == "turn":
                if len(row) < 2:
                    return "there"
                last = [page for page in self.lines[line] if page in row][-1]
                under = (last[1:].rpartition(".")[0], "W" if last[0] == "+" else "R")
                if self.shut(self.allowances(line)) or self.shut(under) or any(map(self.held_twice, channels)):
                    return "turn"
        if verb in ENDS:
            self.ended |= set(things)
        if verb in ("turn", "understitch"):
            self.to_turn -= set(things)
        return ""

    def row(self, way, things, catches):
        """A row of stitching along lines."""
        before = {line: list(pages) for line, pages in self.sewn.items()}
        for line in things:
            pages = [page for page in self.lines[line] if not catches or page[1:] in catches]
            new = [page for page in pages if page not in self.sewn[line]]
            if not new:
                return "free"
            ended = [page for page in pages if page[1:] in self.ended]
            if ended and (way not in OUTSIDE or len(ended) == len(pages)):
                return "free"
            if len(before[line]) > 1 and not self.sees(self.allowances(line)):
                return "free"
            for sheet in {page[1:].rpartition(".")[0] for page in new}:
                if self.shut((sheet, "R")) and self.shut((sheet, "W")):
                    return "reach"
        for line in things:
            pages = [page for page in self.lines[line] if not catches or page[1:] in catches]
            self.sewn[line] += [page for page in pages if page not in self.sewn[line]]
        if way not in OUTSIDE and any(self.shut(self.allowances(line)) for line in things):
            self.sewn = before
            return "turn"
        return ""
