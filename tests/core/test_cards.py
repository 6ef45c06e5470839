"""Cards: Markdown and Mustache, safe against script."""

import pytest
from greylatch.errors import BadInput
from greylatch.reading.card import placeholders, render_card, starting_card, unknown_placeholders


def test_headings_emphasis_lists_and_links() -> None:
    html = render_card(
        "## {{name}}\n\n**{{t}} t**, *peat*\n\n- one\n- [more](https://example.org/{{id}})",
        {"name": "Ard", "t": 12.0, "id": 7},
    )
    assert "<h2>Ard</h2>" in html
    assert "<strong>12 t</strong>" in html
    assert '<a href="https://example.org/7" rel="noopener noreferrer">more</a>' in html


def test_parts_are_shown_only_where_the_value_exists() -> None:
    template = "{{#t}}has {{t}}{{/t}}{{^t}}none{{/t}}"
    assert "has 3" in render_card(template, {"t": 3})
    assert "none" in render_card(template, {"t": None})
    assert "has 0" in render_card(template, {"t": 0})


@pytest.mark.parametrize(
    "template",
    [
        "<script>alert(1)</script>{{name}}",
        '<img src=x onerror="alert(1)">',
        "[x](javascript:alert(1))",
        "![x](data:text/html;base64,PHNjcmlwdD4=)",
        '<iframe src="https://example.org"></iframe>',
        "<a href='#' onclick='alert(1)'>x</a>",
        "<style>body{display:none}</style>",
        "{{{name}}}",
        "{{&name}}",
    ],
)
def test_script_never_survives(template: str) -> None:
    html = render_card(template, {"name": "<script>alert(2)</script><img src=x onerror=alert(3)>"}).lower()
    for bad in ("<script", "<iframe", "<style", '<img src="x"', 'href="javascript', 'src="data', "<a href='#' onclick"):
        assert bad not in html


def test_values_bring_no_markup_of_their_own() -> None:
    html = render_card("{{name}}", {"name": "# *bold* [x](https://evil.example) | a_b"})
    assert html == "<p># *bold* [x](https://evil.example) | a_b</p>\n"


def test_partials_would_read_files_and_are_taken_out() -> None:
    assert "root:" not in render_card("{{> /etc/passwd}}ok", {})


def test_unknown_placeholders_are_named() -> None:
    template = "{{name}} {{#hight}}{{hight}}{{/hight}} {{{x y}}}"
    assert placeholders(template) == ["name", "hight", "x y"]
    assert unknown_placeholders(template, ["name"]) == ["hight", "x y"]


@pytest.mark.parametrize("template", ["{{#open}} never closed", "{{/closed}}", "{{name"])
def test_mistakes_are_told(template: str) -> None:
    with pytest.raises(BadInput, match="template has a mistake"):
        render_card(template, {"name": "x"})


def test_a_card_to_begin_with_uses_the_fields() -> None:
    template = starting_card(["name", "t"])
    assert unknown_placeholders(template, ["name", "t"]) == []
    assert starting_card([]) == ""
