"""Cards: Markdown with placeholders and conditions of Liquid, closed to everything but the row, and safe against script."""

import time
from contextlib import suppress
from html import escape
from typing import Any

import pytest
from greylatch.errors import BadInput
from greylatch.reading.card import foreign_pictures, origin, render_card, starting_card, unknown_placeholders
from greylatch.reading.template import MAX_TEMPLATE, filled, placeholder, placeholders
from greylatch.sheet.reading import parse_sheet
from greylatch.sheet.versions import card_from_1, first_version_id
from hypothesis import example, given, settings
from hypothesis import strategies as st

ROW = {
    "name": "Ard",
    "t": 12.0,
    "id": 7,
    "none": None,
    "empty": "",
    "day": "2026-05-31T00:00:00",
    "of the isle": "Tolm",
}


def test_headings_emphasis_lists_and_links() -> None:
    html = render_card(
        "## {{ name }}\n\n**{{ t }} t**, *peat*\n\n- one\n- [more](https://example.org/{{ id }})",
        {"name": "Ard", "t": 12.0, "id": 7},
    )
    assert "<h2>Ard</h2>" in html
    assert "<strong>12 t</strong>" in html
    assert '<a href="https://example.org/7" rel="noopener noreferrer">more</a>' in html


@pytest.mark.parametrize(
    ("template", "text"),
    [
        ("{% if t %}has {{ t }}{% else %}none{% endif %}", "has 12"),
        ("{% if none %}has{% else %}none{% endif %}", "none"),
        ("{% if blanks %}has{% else %}none{% endif %}", "none"),
        ("{% if gone %}has{% else %}none{% endif %}", "none"),
        ("{% unless none %}no value{% endunless %}", "no value"),
        ("{% if t > 10 and name == 'Ard' %}both{% endif %}", "both"),
        ("{% if none > 10 %}more{% else %}not{% endif %}", "not"),
        ("{% case id %}{% when 7 %}seven{% else %}other{% endcase %}", "seven"),
        ("{{ t | times: 1234.5 | number: 1 }}", "14,814.0"),
        ("{{ t | bar: 24 }}{{ t | bar: 96 }}", "██████▎"),
        ("{{ t | bar: 5 }}{{ t | bar: 0 }}{{ name | bar }}", "██████████12Ard"),
        ("{{ 1234567 | number }} {{ t | number }}", "1,234,567 12"),
        ("{{ t | divided_by: 7.0 | round: 2 }}", "1.71"),
        ("{{ day | date }} {{ day | date: '%d.%m.%y' }}", "31 May 2026 31.05.26"),
        ("{{ name | date }}{{ none | date }}", "Ard"),
        ("{{ none | append: 'x' }}{{ none | default: 'unknown' }}", "xunknown"),
        ("{{ ['of the isle'] }}{{ ['of the isle'] | upcase }}", "TolmTOLM"),
        ("{{ name.size }}", "3"),
    ],
)
def test_conditions_and_filters(template: str, text: str) -> None:
    """Liquid, as its reference documentation describes it (from memory); number and date are ours."""
    assert render_card(template, ROW) == f"<p>{text}</p>\n"


HOSTILE = [
    "{{ name.__class__ }}", "{{ name.__class__.__mro__ }}", "{{ name['__class__'] }}", "{{ self }}", "{{ settings.SECRET_KEY }}",
    "{{ name.__init__.__globals__ }}", "{{ ''.__class__.__base__.__subclasses__() }}", "{{ t.real }}", "{{ t.as_integer_ratio }}",
    "{{ name.upper }}", "{{ name.format }}", "{{ request }}", "{{ config }}", "{{ forloop.parentloop.__class__ }}",
    "{% include '/etc/passwd' %}", "{% render 'card' %}", "{% assign a = name.__class__ %}{{ a }}", "{% capture a %}{{ name }}{% endcapture %}",
    "{% liquid\necho name\n%}", "{% layout 'x' %}", "{% tablerow a in (1..9) %}{% endtablerow %}", "{% increment a %}", "{% raw %}{{ name }}{% endraw %}",
    "{{ name | map: '__class__' }}", "{{ name | where: '__class__' }}", "{{ name | replace: '', 'aaaaaaaaaaaa' }}", "{{ name | safe }}",
    "{{> /etc/passwd}}", "{{#lambda}}x{{/lambda}}", "{{& name }}", "{{{name}}}", "{{= <% %> =}}",
]  # fmt: skip


class Trap:
    """A value that tells when anything of it is touched."""

    secret = "SECRET-KEY-AND-PASSWORD"

    def __call__(self) -> str:
        return self.secret

    def __str__(self) -> str:
        return "plain"

    def __html__(self) -> str:
        return self.secret

    def __liquid__(self) -> str:
        return self.secret


@pytest.mark.parametrize("template", HOSTILE)
def test_templates_see_the_row_and_nothing_else(template: str) -> None:
    row: dict[str, Any] = {
        **ROW,
        "trap": Trap(),
        "call": Trap().__call__,
        "kind": type("K", (), {"secret": Trap.secret}),
    }
    try:
        out = render_card(template, row)
    except BadInput as error:
        out = str(error)
    for leaked in ("<class", "class '", "object at 0x", "root:", Trap.secret, "built-in", "<bound", "mappingproxy"):
        assert leaked not in out.replace("&lt;", "<").replace("&#39;", "'")


@pytest.mark.parametrize(
    "template", ["{{ trap }}", "{{ trap.secret }}", "{{ call }}", "{{ kind.secret }}", "{{ trap | append: trap }}"]
)
def test_values_that_are_more_than_text_are_only_their_text(template: str) -> None:
    out = render_card(template, {"trap": Trap(), "call": Trap().__call__, "kind": Trap})
    assert Trap.secret not in out


@pytest.mark.parametrize(
    "template",
    [
        "{{ >" * 8000, "{{" + " " * 19_000, "{% raw %}" * 2000, "{%" * 9_999, "{{ a | " * 2500, "{% if a %}" * 2000, "{{ a" + ".b" * 9000 + " }}",
        "{{ a" + "[a" * 3000 + "]" * 3000 + "}}", "{% if " + "a and " * 3000 + "a %}x{% endif %}", '{{ "' * 5000, "{{ a" + " | append: a" * 40 + " }}",
        "{% for i in (1..100000000) %}x{% endfor %}", "{% for i in (1..900) %}" * 5 + "x" + "{% endfor %}" * 5,
        "{{ (1..10000000000) | join: ',' }}", "{{ (1..10000000000) | size }}", "{{ day | date: '%999999999d' }}", "{{ t | round: 99999999 }}",
        "{{ t | number: 99999999 }}", "{{ name | truncate: 99999999999 }}", "*" * 19_999, "[" * 19_999, "> " * 9_999, "`" * 19_999, "<" * 19_999,
        "a|" * 9_000 + "\n" + "-|" * 9_000, "![" * 9_999, "{{ name }}" * 1_900, "x" * 2_000_000,
    ],
)  # fmt: skip
def test_no_template_takes_long(template: str) -> None:
    began = time.process_time()
    with suppress(BadInput):
        assert len(render_card(template, ROW)) < 2_000_000
    assert time.process_time() - began < 4, "0.5 s is usual; what is cubic takes minutes"


@settings(max_examples=150, deadline=2_000)
@example(template="{{ name | }}")
@given(
    template=st.lists(
        st.sampled_from(
            [
                "{{",
                "}}",
                "{%",
                "%}",
                " if ",
                "endif",
                "name",
                "|",
                "'",
                '"',
                "[",
                "]",
                "(1..3)",
                " for i in ",
                ":",
                "-",
                "\n",
                ".",
            ]
        ),
        max_size=30,
    ).map("".join)
)
def test_any_template_is_filled_or_refused_in_words(template: str) -> None:
    try:
        render_card(template, ROW)
        placeholders(template)
    except BadInput as error:
        assert "template has a mistake" in str(error)


@pytest.mark.parametrize(
    "template",
    [
        "<script>alert(1)</script>{{ name }}",
        '<img src=x onerror="alert(1)">',
        "[x](javascript:alert(1))",
        "![x](data:text/html;base64,PHNjcmlwdD4=)",
        '<iframe src="https://example.org"></iframe>',
        "<a href='#' onclick='alert(1)'>x</a>",
        "<style>body{display:none}</style>",
        "{{ name }}",
        "[{{ name }}]({{ name }})",
    ],
)
def test_script_never_survives(template: str) -> None:
    html = render_card(template, {"name": "<script>alert(2)</script><img src=x onerror=alert(3)>"}).lower()
    for bad in ("<script", "<iframe", "<style", '<img src="x"', 'href="javascript', 'src="data', "<a href='#' onclick"):
        assert bad not in html


def test_values_bring_no_markup_of_their_own() -> None:
    html = render_card("{{ name }}", {"name": "# *bold* [x](https://evil.example) | a_b & https://evil.example"})
    assert html == "<p># *bold* [x](https://evil.example) | a_b &amp; https://evil.example</p>\n"


def test_pictures_from_elsewhere_are_shown_only_where_they_are_allowed() -> None:
    template, row = "![The weir]({{ picture }})", {"picture": "https://pictures.example.org/weir.jpg"}
    assert render_card(template, row) == '<p><img alt="The weir"></p>\n'
    assert foreign_pictures(template, row) == ["https://pictures.example.org"]
    assert 'src="https://pictures' in render_card(template, row, ["https://pictures.example.org"])
    assert "src" not in render_card(template, row, ["https://example.org"])
    for odd in (
        "//evil.example/a.jpg",
        "https://pictures.example.org.evil.example/a",
        "https://pictures.example.org@evil.example/a",
    ):
        assert "src" not in render_card(f"![x]({odd})", {}, ["https://pictures.example.org"])


@pytest.mark.parametrize(
    ("address", "named"),
    [
        ("https://A.example:8443/x", "https://a.example:8443"),
        ("ftp://a.example", ""),
        ("/a.jpg", ""),
        ("https://[::1", ""),
        ("", ""),
    ],
)
def test_origins(address: str, named: str) -> None:
    assert origin(address) == named


def test_unknown_placeholders_are_named() -> None:
    template = "{{ name }} {% if hight %}{{ hight }}{% endif %} {{ ['x y'] }}"
    assert placeholders(template) == ["name", "hight", "x y"]
    assert unknown_placeholders(template, ["name"]) == ["hight", "x y"]


@pytest.mark.parametrize(
    ("template", "where"),
    [
        ("{% if open %} never closed", ""), ("{% endif %}", "line 1"), ("a\n{{ name", "line 2, column 1"), ("{{ name | nonsense }}", "line 1"),
        ("{{ x y }}", "line 1"), ("one\ntwo {% include 'a' %}", "line 2, column 5"),
    ],
)  # fmt: skip
def test_mistakes_are_told_with_their_place(template: str, where: str) -> None:
    with pytest.raises(BadInput, match=f"template has a mistake.*{where}"):
        render_card(template, {"name": "x"})


def test_texts_of_any_length_are_not_filled() -> None:
    with pytest.raises(BadInput, match="at most 20,000"):
        filled("x" * (MAX_TEMPLATE + 1), {})
    with pytest.raises(BadInput, match="template has a mistake"):
        filled("{{ a }}" * 2_000, {"a": "x" * 1_000})


@pytest.mark.parametrize(
    "name", ["plain", "höhe", "x y", 'with "quotes"', "it's", "2020", "and", "a-b", "a.b", "a|b", "%}", "}}"]
)
def test_any_field_has_a_placeholder(name: str) -> None:
    if "}}" in name or "%}" in name:
        return  # the two pairs of characters that no placeholder can hold
    assert render_card(placeholder(name), {name: "value"}) == "<p>value</p>\n"


def test_a_card_to_begin_with_uses_the_fields() -> None:
    template = starting_card([("name", "text", "name"), ("t", "number", "count"), ("of the isle", "text", "name")])
    assert unknown_placeholders(template, ["name", "t", "of the isle"]) == []
    assert (
        render_card(template, {"name": "Ard", "t": 3, "of the isle": None})
        == "<h3>Ard</h3>\n<ul>\n<li>t: 3</li>\n</ul>\n"
    )
    assert starting_card([]) == ""


def test_a_card_to_begin_with_shows_pictures_with_whose_they_are() -> None:
    template = starting_card([("hut", "text", "name"), ("photo", "text", "picture"), ("photo_by", "text", "name")])
    shown = {"hut": "Ard", "photo": "https://a.example/1.jpg", "photo_by": "Isla Orr"}
    picture = '<img src="https://a.example/1.jpg" alt="Ard">'
    assert render_card(template, shown, ["https://a.example"]) == (
        f"<h3>Ard</h3>\n<p>{picture}<small>Picture: Isla Orr</small></p>\n"
    )
    assert render_card(template, {**shown, "photo": None}) == "<h3>Ard</h3>\n"


def test_a_card_begins_with_the_name_and_what_the_map_shows() -> None:
    """The fields of libpysal's states, in their order: codes come first there, and say least."""
    numbers = [("AREA", "number", "count"), ("STATE_ID", "integer", "identifier"), ("1929", "integer", "count")]
    fields = [
        *numbers,
        ("lat", "number", "measure"),
        ("STATE_NAME", "text", "name"),
        ("SUB_REGION", "text", "category"),
        ("2009", "integer", "count"),
    ]
    lines = starting_card(fields, ["2009"]).splitlines()  # type: ignore[arg-type]
    assert lines[0] == "### {{ STATE_NAME }}"
    assert [line for line in lines if line.startswith("-")] == [
        '- 2009: {{ ["2009"] | number }}', "- AREA: {{ AREA | number }}", '- 1929: {{ ["1929"] | number }}', "- SUB_REGION: {{ SUB_REGION }}",
        "- STATE_ID: {{ STATE_ID }}",
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("was", "now"),
    [
        ("### {{name}}", "### {{ name }}"),
        ("{{ name }} {{{html}}} {{& amp }}", "{{ name }} {{ html }} {{ amp }}"),
        ("{{#t}}has {{t}}{{/t}}{{^t}}none{{/t}}", "{% if t %}has {{ t }}{% endif %}{% unless t %}none{% endunless %}"),
        ("{{#a}}{{^b c}}x{{/b c}}{{/a}}", '{% if a %}{% unless ["b c"] %}x{% endunless %}{% endif %}'),
        ("{{! a remark }}{{> partial }}ok", "ok"),
        ("{{ t | number: 1 }}", "{{ t | number: 1 }}"),
        ("no braces { } {% if t %}", "no braces { } {% if t %}"),
    ],
)
def test_cards_of_the_first_version_are_carried_forward(was: str, now: str) -> None:
    assert card_from_1(was) == now


def test_documents_of_the_first_version_are_carried_forward_whole() -> None:
    classing = {"field": "t", "method": "quantile", "classes": 3}
    layer = {
        "id": "a", "name": "A", "dataset": "d", "card": "{{#t}}{{t}}{{/t}}", "symbology": {"kind": "classed", "classing": classing},
        "key": {"entries": {"class-0": "little", "no-data": "?"}, "hidden": ["class-2"]},
    }  # fmt: skip
    for stated in ({"version": 1}, {}):
        sheet = parse_sheet({**stated, "title": "T", "layers": [layer]})
        assert sheet.version == 4
        assert sheet.layers[0].card == "{% if t %}{{ t }}{% endif %}"
        assert sheet.layers[0].key.entries == {first_version_id(0, classing): "little", "no-data": "?"}
        assert sheet.layers[0].key.hidden == [first_version_id(2, classing)]
    again = parse_sheet(sheet.model_dump(mode="json"))
    assert again == sheet
    assert first_version_id(0, classing) != first_version_id(0, {**classing, "field": "u"}), (
        "words stay with what they were for"
    )


@pytest.mark.parametrize("credit", ["Isla Orr", 'Isla "Peat" Orr', "<b onclick=x>Orr</b>", '" onerror="x'])
def test_pictures_by_address_say_whose_they_are(credit: str) -> None:
    template = '![The weir](https://a.example/{{ photo }} "{{ by }}")'
    html = render_card(template, {"photo": "weir.jpg", "by": credit}, ["https://a.example"])
    image = '<img src="https://a.example/weir.jpg" alt="The weir">'
    assert html == f"<p>{image}<small>Picture: {escape(credit, quote=False)}</small></p>\n"
    assert render_card(template, {"photo": "weir.jpg", "by": None}, ["https://a.example"]) == f"<p>{image}</p>\n"


def test_numbers_of_tables_stand_on_the_side_that_the_rule_says() -> None:
    """Alignment of columns as in GitHub Flavored Markdown 0.29, 4.10."""
    html = render_card("| a | b | c |\n|---|:-:|--:|\n| {{ a }} | 2 | 3 |\n", {"a": "x"})
    assert (
        '<th align="right">c</th>' in html
        and '<td align="right">3</td>' in html
        and '<td align="center">2</td>' in html
    )
    assert "<td>x</td>" in html and "style" not in html


@pytest.mark.parametrize(
    ("value", "shown"), [(4_291_663.0, "4,291,663"), (2.14e13, "21,400,000,000,000"), (-1234.5, "−1,234.5"), (7, "7")]
)
def test_figures_have_their_thousands_parted(value: float, shown: str) -> None:
    assert render_card("{{ n | number }}", {"n": value}) == f"<p>{shown}</p>\n"
