"""Drawings as elements: built by `tag`, written out once by `markup`, so that no text can break out of its place."""

from collections.abc import Iterable, Iterator
from typing import Union
from xml.etree.ElementTree import Element, tostring

# What may stand inside an element: text, an element, or any of these in a row.
Drawn = Union[Element, str, Iterable["Drawn"]]  # noqa: UP007 a type that names itself cannot be written with | in 3.11


def tag(name: str, *children: Drawn, css: str = "", **attributes: str | float) -> Element:
    """An element with its children in order; text is escaped when it is written out.

    Args:
        css: its classes.
        attributes: underscores stand for hyphens, as in `stroke_width`.
    """
    element = Element(name, {"class": css} if css else {})
    for key, value in attributes.items():
        element.set(key.replace("_", "-"), str(value))
    for child in _flat(children):
        if not isinstance(child, str):
            element.append(child)
        elif len(element):
            element[-1].tail = (element[-1].tail or "") + child
        else:
            element.text = (element.text or "") + child
    return element


def _flat(children: Iterable[Drawn]) -> Iterator[Element | str]:
    for child in children:
        if isinstance(child, str | Element):
            yield child
        else:
            yield from _flat(child)


def markup(element: Element) -> str:
    """An element as it stands in a page or a file."""
    return tostring(element, encoding="unicode")
