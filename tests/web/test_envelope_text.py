"""The envelope's form: what was understood of its text is said beside the field at once, what was not is asked about there."""

import pytest

SIZES = {"size": ["12", "14"], "body_bust": ["34 in", "36 in"]}


def form(**more):
    return {"version": "0", "name": "Smock", "garment": "top", "views": "A", "cut": "", **SIZES, **more}


def test_printed_lengths_are_echoed_by_the_views_and_sizes_in_the_form(client):
    told = client.post("/patterns/echo/printed", data=form(printed="A; all; 115 cm; 2.10 m")).text
    assert "Understood: view A, sizes 12, 14, 115 cm" in told and "field-error" not in told
    asked = client.post("/patterns/echo/printed", data=form(printed="A; 16; 115 cm; 2.10 m")).text
    assert "no size 16; it has 12, 14" in asked and "field-error" in asked
    assert client.post("/patterns/echo/printed", data=form(printed="")).text.strip() == ""


def test_a_range_of_sizes_is_kept_and_what_the_pattern_has_not_is_refused_with_nothing_lost(client):
    bad = client.post("/patterns/new", data=form(printed="A; 12-18; 45 in; 2 1/4 yd"))
    assert bad.status_code == 422 and "no size 18" in bad.text and "A; 12-18; 45 in; 2 1/4 yd" in bad.text
    good = client.post("/patterns/new", data=form(printed="A; 12-14; 45 in; 2 1/4 yd"), follow_redirects=True)
    assert good.status_code == 200
    again = client.get(good.url.path + "/envelope").text
    assert "A; 12, 14; 45 in; 2 1/4 yd" in again


@pytest.mark.parametrize(
    ("figures", "says"),
    [
        (["34 in", "91 in"], "Was 91 cm meant?"),  # as inches, seven and a half feet round
        (["86", "36"], "Was 36 in meant?"),
        (["34 in", "33 in"], "Smaller than size 12"),
    ],
)
def test_a_figure_in_the_other_unit_is_asked_about_as_such(client, figures, says):
    answer = client.post("/patterns/new", data=form(body_bust=figures))
    assert answer.status_code == 422 and says in answer.text and f'value="{figures[1]}"' in answer.text


def test_fibres_and_notions_are_told_as_they_are_typed(client):
    told = client.post("/understood/fibre", data={"fibre": "95% cotton 5% elastane"}).text
    assert "Understood: 95 % cotton, 5 % elastane" in told and "Iron:" in told
    asked = client.post("/understood/fibre", data={"fibre": "fabulon"}).text
    assert "No fibre is known in this" in asked and "the iron is low" in asked
    assert client.post("/understood/fibre", data={"fibre": ""}).text.strip() == ""
    read = client.post("/understood/notions", data={"notions": "7 buttons of 15 mm, zip 22 cm, elastic 1 in"}).text
    assert "Understood: 7 buttons, 15 mm across, zip 22 cm, elastic 1 in wide" in read
    assert client.post("/understood/notions", data={"notions": "thread"}).text.strip() in (
        "",
        '<span class="echo"></span>',
    )
