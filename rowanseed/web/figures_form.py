"""The figures of a garment as fields of a form: typed with a pattern or in a make."""

from dataclasses import fields

from rowanseed.core.lengths import Length
from rowanseed.core.pattern.figures import Figures
from rowanseed.web.forms import Form

MOST_MM = {
    "button": 100,
    "button_thick": 60,
    "hem_first": 200,
    "hem_second": 400,
    "overlap": 300,
    "zip": 2000,
    "elastic": 200,
}
LABELS = (
    ("buttons", "Buttons in all, cuffs too"),
    ("button", "A button is across"),
    ("button_thick", "and thick"),
    ("hem_first", "Hem, first fold"),
    ("hem_second", "Hem, second or only fold"),
    ("overlap", "A waistband overlaps by"),
    ("zip", "Zip"),
    ("elastic", "Elastic, wide"),
)


def typed_figures(figures: Figures) -> dict[str, str]:
    """Figures as a form's fields, each under `figure-` and its name."""
    given = {f.name: getattr(figures, f.name) for f in fields(figures)}
    return {f"figure-{k}": v.text if isinstance(v, Length) else str(v) for k, v in given.items() if v is not None}


def read_figures(form: Form) -> Figures:
    """Read the figures of a form; what is empty is not said."""
    count = form.typed.get("figure-buttons", "").strip()
    buttons = form.number("figure-buttons", "Buttons", 0, 200) if count else None
    return Figures(buttons, **{k: form.length(f"figure-{k}", most_mm=most) for k, most in MOST_MM.items()})
