"""Short forms: a cloth begins with name, width and length, a pattern with name and sizes, a body with its garment's tapes."""

import re
from contextlib import closing

from rowanseed.store import cloths, db, makes, patterns, people


def fold(page):
    """A page's text before its first "More", and what stands behind it."""
    form = page[page.index('<form method="post"', page.index("<main")) :]
    return form.split("More:", 1)


def test_a_cloth_begins_with_three_fields(client):
    first, rest = fold(client.get("/cloths/new").text)
    assert set(re.findall(r'name="(\w+)"', first)) - {"version", "shown"} == {"name", "width", "length"}
    assert {"fibre", "nap", "kind", "prepared"} <= set(re.findall(r'name="(\w+)"', rest))


def test_what_its_name_tells_is_said_at_once_and_kept_until_said_otherwise(client, empty):
    assert "corduroy lies one way" in client.post("/understood/name", data={"name": "Bark corduroy"}).text
    sent = {"name": "Cotton corduroy", "width": "142 cm", "length": "2 m", "nap": "by-name", "opaque": "on"}
    empty.post("/cloths/new", data=sent)
    empty.post("/cloths/new", data={**sent, "name": "Printed corduroy", "nap": "none"})
    empty.post("/cloths/new", data={**sent, "name": "Blue twill", "fibre": "linen"})
    page = empty.get("/cloths").text
    cotton, printed, blue = (
        page[page.index(name) :][:500] for name in ("Cotton corduroy", "Printed corduroy", "Blue twill")
    )
    assert "cotton" in cotton and "one way" in cotton
    assert "one way" not in printed.split("</article>")[0]
    refused = empty.post("/cloths/1", data={**sent, "nap": "none", "width": "wide"}).text
    assert "Taken from its name" not in refused  # there the nap was said
    assert "Taken from its name" in empty.post("/cloths/new", data={**sent, "width": "wide"}).text
    assert "linen" in blue and "one way" not in blue.split("</article>")[0]


def test_a_make_asks_once_what_the_short_form_left_open(client, demo_path):
    client.post("/cloths/new", data={"name": "Grey twill", "width": "142 cm", "length": "4 m", "nap": "by-name"})
    with closing(db.connect(demo_path)) as conn:
        made = next(m for m in makes.makes(conn) if "check" in m.name)
        grey = next(c for c in cloths.cloths(conn) if c.cloth.name == "Grey twill")
    client.post(f"/makes/{made.id}/cloth", data={"role": "self", "cloth": str(grey.id), "version": str(made.version)})
    page = client.get(f"/makes/{made.id}/cloth").text
    assert "matter now" in page and f'action="/cloths/{grey.id}/asked"' in page
    sent = {"make": str(made.id), "version": str(grey.version), "nap": "one-way"}
    refused = client.post(f"/cloths/{grey.id}/asked", data=sent)
    assert refused.status_code == 422 and "The fibre, or “unknown”, is needed." in refused.text
    answer = client.post(f"/cloths/{grey.id}/asked", data={**sent, "fibre": "wool"}, follow_redirects=False)
    assert answer.status_code == 303 and answer.headers["location"] == f"/makes/{made.id}/cloth"
    page = client.get(f"/makes/{made.id}/cloth").text
    assert "matter now" not in page and "one way: no piece is turned head to tail" in page


def test_a_size_table_asks_what_its_garment_needs(client):
    def shown(page):
        return [m[1] for m in re.finditer(r'<th class="n" data-col="(\w+)">', page)]

    assert shown(client.get("/patterns/new").text) == [
        f"{k}_{z}" for k in ("body", "finished") for z in ("bust", "waist", "hip")
    ]
    sent = {"name": "", "garment": "trousers", "views": "A", "size": ["12"], "body_waist": ["70"]}
    assert shown(client.post("/patterns/new", data=sent).text) == [
        "body_waist",
        "body_hip",
        "finished_waist",
        "finished_hip",
    ]
    # What stands in a column is never hidden.
    assert "body_bust" in shown(client.post("/patterns/new", data={**sent, "body_bust": ["88"]}).text)


def test_a_body_is_measured_for_a_garment_and_the_make_goes_on(client, demo_path):
    with closing(db.connect(demo_path)) as conn:
        made = next(m for m in makes.makes(conn) if "trousers" in m.name.lower())
        who = people.person(conn, made.garments[0].person_id)
        assert patterns.pattern(conn, made.pattern_id).pattern.garment == "trousers"
    fit = client.get(f"/makes/{made.id}/fit").text
    link = re.search(rf"/people/{who.id}\?for=trousers&amp;make={made.id}", fit)
    assert link and "asked by trousers" in fit
    page = client.get(link[0].replace("&amp;", "&")).text
    first, more = page[page.index("Measured for") :].split("More, where the fit asks", 1)
    assert 'name="inseam"' in first and 'name="bust"' not in first and 'name="bust"' in more
    sent = {"taken_on": "2026-01-05", "inseam": "78 cm", "make": str(made.id), "version": str(who.version)}
    answer = client.post(f"/people/{who.id}/measure", data=sent, follow_redirects=False)
    assert answer.headers["location"] == f"/makes/{made.id}/fit"
    assert "inside leg" not in client.get(f"/makes/{made.id}/fit").text.split("asked by trousers")[-1][:200].lower()


def test_no_sleeve_is_measured_for_a_waistcoat(client, demo_path):
    page = client.get("/").text
    waistcoats = re.search(r"/makes/(\d+)[^>]*>Four choir", page)[1]
    asked = client.get(f"/makes/{waistcoats}/fit").text.split("asked by a jacket")[1][:300]
    assert "across the back" in asked and "arm" not in asked.replace("Measure", "")


def test_the_first_field_of_a_new_thing_is_ready_to_be_typed_in(client):
    for path in ("/people/new", "/patterns/new", "/cloths/new", "/makes/new"):
        page = client.get(path).text
        assert page.count(" autofocus") == 2, path  # the first field's, and that of the closed list of keys
        assert re.search(r'name="name"[^>]*autofocus', page), path
    refused = client.post("/cloths/new", data={"name": "", "width": "wide"}).text
    assert not re.search(r'name="name"[^>]*autofocus', refused)  # there the first wrong field is gone to
