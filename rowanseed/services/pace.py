"""The household's pace, from all that was timed in its makes."""

import re
import sqlite3

from rowanseed.core.sew.model import Library, Template
from rowanseed.core.sew.pace import Pace, Timed, pace_of
from rowanseed.formats.sewing import library
from rowanseed.store.sewing import timed


def household_pace(conn: sqlite3.Connection) -> Pace:
    """Return the pace that the timed steps of every make show."""
    known = library()
    found = [(_template_of(known, step), seconds) for step, seconds in timed(conn)]
    return pace_of([Timed(t.id, seconds) for t, seconds in found if t is not None], {t.id: t for t in known.templates})


def _template_of(known: Library, step: str) -> Template | None:
    """The template of a step's id; one done to seams has the seam's name in its id, and the longest match is meant."""
    plain = step.partition("@")[0]
    own = known.template(plain)
    if own is not None:
        return own
    patterns = (
        (t, re.escape(t.id).replace(re.escape("{seam}"), "[a-z-]+")) for t in known.templates if "{seam}" in t.id
    )
    fitting = [t for t, pattern in patterns if re.fullmatch(pattern, plain)]
    return max(fitting, key=lambda t: len(t.id), default=None)
