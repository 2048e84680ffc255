"""Shopping: what was bought instead, what that changes, a piece from the shelf; nothing typed is lost."""

import html
import json
import re


def line_key(page, what):
    found = re.search(rf'name="key" value="([^"]*{what}[^"]*)"', page)
    assert found, what
    return html.unescape(found[1])


def test_less_than_was_asked_is_told_with_what_lacks_and_goes_into_the_stash(client):
    key = line_key(client.get("/shopping").text, "Bark corduroy")
    client.post("/shopping/bought", data={"key": key, "length": "1.5 m", "price": "18.00"})
    page = client.get("/shopping").text
    assert "Bought: 150 cm (59 in), 18.00." in page and "too short by" in page and "Corduroy trousers" in page
    assert 'aria-pressed="true" aria-label="Bark corduroy' in re.sub(r"\s+", " ", page)
    address = re.search(r'action="(/cloths/\d+/bought)"', page)[1]
    cloth = client.post(address, data={"key": key}).text
    assert 'value="1.5 m"' in cloth and "1.7 m" in cloth  # what was there is a further length
    assert "Bought: 150 cm" not in client.get("/shopping").text


def test_something_else_is_kept_as_a_cloth_of_its_own_with_what_was_said(client):
    key = line_key(client.get("/shopping").text, "Bark corduroy")
    client.post("/shopping/bought", data={"key": key, "length": "2 m", "width": "115 cm", "what": "Green twill"})
    page = client.get("/shopping").text
    assert "it is narrower" in page.lower() and "worked out anew" in page
    address = html.unescape(re.search(r'href="(/cloths/new\?[^"]+)"', page)[1])
    form = client.get(address).text
    assert all(f'value="{typed}"' in form for typed in ("Green twill", "115 cm", "2 m"))


def test_a_length_that_is_none_is_told_beside_its_field_and_nothing_is_lost(client):
    key = line_key(client.get("/shopping").text, "Bark corduroy")
    answer = client.post("/shopping/bought", data={"key": key, "length": "long", "what": "twill"})
    assert answer.status_code == 422 and 'value="long"' in answer.text and 'value="twill"' in answer.text
    assert "length-error" in answer.text
    assert client.post("/shopping/bought", data={"key": key}).status_code == 422  # nothing said is no purchase
    assert "Bought:" not in client.get("/shopping").text


def test_a_piece_from_the_shelf_becomes_a_cloth_and_is_held_against_the_patterns(client):
    answer = client.post(
        "/shopping/piece", data={"width": "145", "length": "2 1/2 yd", "price": "9.50", "one_way": "on"}
    )
    assert answer.status_code == 200 and "Hedgerow overshirt" in answer.text  # what it is enough for
    made = client.get(re.sub(r"/enough.*", "", str(answer.url))).text
    assert 'value="145 cm"' in made and 'value="2 1/2 yd"' in made and 'value="9.50"' in made
    wrong = client.post("/shopping/piece", data={"width": "", "length": "1 m", "name": "Leaf"})
    assert wrong.status_code == 422 and 'value="Leaf"' in wrong.text and "The width is needed" in wrong.text


def test_figures_for_the_shelf_are_whole_so_that_a_decimal_comma_breaks_none(client):
    def shelf():
        page = client.get("/shopping").text
        return json.loads(html.unescape(re.search(r'data-shelf="([^"]*)"', page)[1]))

    before = shelf()
    assert before["rows"] and all(
        isinstance(t[k], int) for row in before["rows"] for t in row["takes"] for k in (2, 3, 4)
    )
    form = client.get("/settings").text
    assert "decimal" in form
    fields = dict(re.findall(r'name="([a-z_]+)" value="([^"]*)"', form))
    client.post("/settings", data={**fields, "unit": "cm", "decimal": ","})
    assert shelf()["rows"] == before["rows"]


def test_what_is_not_laid_is_laid_ahead(client):
    assert "lay what is not known" in client.get("/shopping").text
    client.post("/shopping/ahead")
    jobs = client.app.state.jobs
    waiting = jobs.waiting_for("")
    assert waiting or "lay what is not known" not in client.get("/shopping").text
    for job in waiting:
        jobs.stop(job.id)


def test_each_thing_where_it_costs_least_is_told_shop_by_shop(client):
    shops = re.findall(r'href="/shops/(\d+)"', client.get("/shops").text)
    page = client.get("/shopping?shop=-1").text
    heads = re.findall(r"<h2>([^<]+)", page)
    assert len(set(shops)) < 2 or "each thing where it costs least" in page
    assert "Anywhere" in heads[-1] or any("Anywhere" in head for head in heads)
    key = line_key(page, "Bark corduroy")
    assert client.post("/shopping/tick", data={"key": key, "done": "on", "shop": "-1"}).url.query == b"shop=-1"
