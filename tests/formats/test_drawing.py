"""Elements: children in their order, text escaped, names with hyphens."""

from xml.etree.ElementTree import fromstring

from rowanseed.formats.drawing import markup, tag


def test_children_and_text_keep_their_order_however_they_are_nested():
    drawn = tag("text", "one ", tag("b", "two"), [" three", [tag("b", "four"), " five"]], font_size=12, css="small")
    assert markup(drawn) == '<text class="small" font-size="12">one <b>two</b> three<b>four</b> five</text>'


def test_what_is_typed_cannot_leave_its_place():
    name = '"><script>alert(1)</script>&'
    read = fromstring(markup(tag("svg", tag("title", name), aria_label=name)))
    assert len(read) == 1 and read[0].text == name and read.get("aria-label") == name
