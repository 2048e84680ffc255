"""The life of an edge or a seam, from raw to finished: where each verb has its place in it."""

STAGES: dict[str, int] = {
    "mark": 0, "stay": 2, "fuse": 1, "baste": 3, "sample": 0, "dart": 10, "tuck": 5, "pleat": 5, "gather": 5, "ease": 5, "shirr": 5,
    "decorate": 4, "make": 10, "join": 10, "attach": 10, "bind": 10, "face": 10, "insert": 10, "trim": 20, "clip": 24, "grade": 26,
    "finish": 30, "press": 40, "understitch": 50, "topstitch": 55, "pad": 60, "turn": 57, "close": 58, "fold": 16, "hem": 18,
    "hang": 8, "try-on": 9, "fasten": 62, "buttonhole": 64, "cut": 66, "button": 70, "undo": 72, "check": 80,
}  # fmt: skip
JOINED = 10  # the stage at which an edge or a seam is used
TURNED = 58  # the stage by which a joined edge is turned and its space closed
WORKED = 55  # the last stage of what is done to a seam before something may cross its end

# What uses an edge up; a fold does too, since it is turned over the ends of the seams there.
CONSUMING = frozenset({"join", "attach", "bind", "face", "hem", "fold"})
OUTSIDE = frozenset(
    {"topstitch", "buttonhole", "button", "cut", "fasten", "undo", "check", "decorate", "try-on", "hang"}
)


def stage_of(verb: str) -> int:
    """Where a verb stands in the life of its thing."""
    return STAGES[verb]
