"""What is printed, page by page: no heading alone at a page's foot, nothing that can only be pressed, one page for the notebook."""

import pypdfium2 as pdfium
import pytest

PRINTED = (
    "makes/1/lay",
    "makes/1/cut",
    "makes/2/sew",
    "makes/3/sew",
    "makes/1/wear",
    "shopping",
    "makes/1/wear/notebook",
)


def printed(page):
    """The lines of each page of the print."""
    document = pdfium.PdfDocument(page.pdf(format="A4", print_background=True))
    texts = [leaf.get_textpage().get_text_bounded() for leaf in document]
    return [[line.strip() for line in text.splitlines() if line.strip()] for text in texts]


@pytest.mark.parametrize("path", PRINTED)
def test_no_heading_is_lost_at_the_foot_of_a_page(demo_server, open_page, path):
    page = open_page(demo_server)
    page.goto(f"{demo_server.base}/{path}")
    page.wait_for_load_state("networkidle")
    headings = {text.strip() for text in page.locator("h1, h2, h3").all_inner_texts() if text.strip()}
    leaves = printed(page)
    assert leaves and all(leaves), "an empty page is printed"
    for lines in leaves[:-1]:
        assert lines[-1] not in headings, f"“{lines[-1]}” stands alone at the foot of a page"
    words = " ".join(line for lines in leaves for line in lines)
    for button in page.locator("main button:visible").all_inner_texts():
        assert not button.strip() or len(button.split()) < 2 or button.strip() not in words, f"“{button}” is printed"


@pytest.mark.parametrize("make", [1, 2, 5])
def test_a_make_is_one_page_in_the_notebook(demo_server, open_page, make):
    page = open_page(demo_server)
    page.goto(f"{demo_server.base}/makes/{make}/wear/notebook")
    assert len(printed(page)) == 1
