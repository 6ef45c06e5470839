"""The demo's sheets: three finished ones, and one half done for the guide's walk-through."""

from typing import Any

CARD = """### {{ name }}

{{ isles }} isles · {{ code }}

{% if carbon_t %}
**{{ carbon_t | number: 0 }} t** of carbon in **{{ peat_ha | number: 0 }} ha** of peat
{% else %}
*No return of carbon yet.*
{% endif %}
{% if drained_percent %}
- drained: {{ drained_percent | round }} %
{% endif %}
- restoration money: {{ restoration_money | number }}
"""
CREDITS = "Vaskerry Peatland Survey (invented data), 2026"
TERMS = "free, with credit"
NUMBER_OF_WELL = "well"
VIEW = {"lon": -26.99, "lat": 52.01, "zoom": 9.9}


def finished_sheet(
    areas: str = "catchments_with_returns.geojson",
    relief: str = "relief.tif",
    wells: str = "dip_wells.csv",
    isles: str = "isles.csv",
) -> dict[str, Any]:
    """Carbon per hectare of peat, multiplied over the shaded relief, with graduated dip wells, labels, key and card.

    The arguments name the datasets: paths beside the sheet's file, or ids on a server.
    """
    return {
        "version": 4,
        "title": "Carbon in the peat of the Vaskerry Isles",
        "layers": [
            {
                "id": "wells", "name": "Water table below ground", "dataset": wells, "opacity": 0.95,
                "symbology": {
                    "kind": "symbols",
                    "symbol": {"fill": "#2f6f8c", "fill_opacity": 0.75, "strokes": [{"colour": "#ffffff", "width": 0.5}]},
                    "encodings": {
                        "size": {
                            "by": "classes", "classing": {"field": "water_table_cm", "method": "quantile", "classes": 4},
                            "smallest": 1.0, "largest": 3.4, "no_data": None,
                        },
                    },
                },
                "card": "### Well {{ well }}\n\nWater table **{{ water_table_cm }} cm** below ground, {{ condition }}",
            },
            {
                "id": "carbon", "name": "Carbon, t per ha of peat", "dataset": areas, "blend": "multiply", "key": {"unit": ""},
                "symbology": {
                    "kind": "symbols", "symbol": {"strokes": [{"colour": "#6b6258", "width": 0.5, "opacity": 0.8}]},
                    "encodings": {
                        "colour": {
                            "by": "classes",
                            "classing": {"field": "carbon_t", "normalise": {"by": "field", "field": "peat_ha"}, "method": "natural-breaks", "classes": 6},
                            "ramp": {"name": "heather"}, "no_data": "#e4e1d8",
                        },
                    },
                },
                "lettering": {"lines": [{"text": "{name}", "size": 10, "colour": "#2b2b28"}], "halo": 1.2, "halo_colour": "#fbf8f1"},
                "card": CARD,
            },
            {"id": "relief", "name": "Relief", "dataset": relief, "symbology": {"kind": "hillshade", "exaggeration": 1.6}, "opacity": 0.9, "key": {"shown": False}},
            {
                "id": "isles", "name": "Names of the isles", "dataset": isles, "key": {"shown": False},
                "symbology": {"kind": "symbols", "symbol": {"radius": 0, "fill_opacity": 0, "strokes": []}},
                "lettering": {"lines": [{"text": "{name}", "size": 15, "colour": "#3d4b52", "family": "serif", "weight": 400, "italic": True, "spacing": 0.05}], "halo": 1.5, "halo_colour": "#e3e9e8"},
            },
        ],
        "view": VIEW,
        "furniture": {"ground": "#e3e9e8", "scale_bar": True, "credits": CREDITS, "source_date": "May 2026", "terms": TERMS},
        "reader": {
            "filters": [
                {"kind": "range", "layer": "wells", "field": "water_table_cm", "title": "Water table, cm below ground"},
                {"kind": "choices", "layer": "wells", "field": "condition", "title": "Condition of the peat"},
            ],
            "search": [{"layer": "carbon", "field": "name"}, {"layer": "wells", "field": NUMBER_OF_WELL}],
            "key_switches": True, "near": {"layers": ["wells"], "distance": 5}, "controls": {"measure": True, "layers": True, "share": True},
        },
        "accepted": [
            {"finding": "key-as-seen:carbon", "reason": "The relief is meant to be seen through the colours."},
            {"finding": "close-on-map-protan:carbon", "reason": "Only one catchment is in the highest class, and its card says so."},
        ],
    }  # fmt: skip


def half_done_sheet(areas: str, peat: str) -> dict[str, Any]:
    """Catchments and peat depth, with the mistakes that the guide mends."""
    return {
        "version": 4,
        "title": "Money for restoration (half done)",
        "layers": [
            {
                "id": "money", "name": "Restoration money", "dataset": areas,
                "symbology": {
                    "kind": "symbols", "symbol": {"fill_opacity": 0.8},
                    "encodings": {
                        "colour": {
                            "by": "classes", "classing": {"field": "restoration_money", "method": "equal-interval", "classes": 12},
                            "ramp": {"name": "slate"},
                        },
                    },
                },
                "card": "### {{ name }}\n\n{{ money }} spent",
            },
            {"id": "depth", "name": "Depth of peat, m", "dataset": peat, "symbology": {"kind": "raster-ramp", "ramp": {"name": "peat"}}},
        ],
        "view": VIEW,
    }  # fmt: skip


def plants_sheet(
    wells: str = "dip_wells.csv",
    relief: str = "relief.tif",
    ditches: str = "ditches.geojson",
    bothies: str = "bothies.csv",
) -> dict[str, Any]:
    """What grows where the water table is lowest: rings by share over the relief, the ditches that drain the peat, and the bothies that the
    survey sleeps in, with their pictures."""
    cover = [
        ("sphagnum", "#5f8f3f", "bog moss"), ("cotton_grass", "#c9b458", "cotton grass"), ("heather", "#9b5a86", "heather"),
        ("moor_grass", "#4f8a8b", "moor grass"), ("bare_peat", "#5b4334", "bare peat"),
    ]  # fmt: skip
    return {
        "version": 4,
        "title": "What grows where the peat is dry",
        "layers": [
            {
                "id": "bothies", "name": "Bothies", "dataset": bothies, "kept_clear": True,
                "symbology": {
                    "kind": "symbols",
                    "symbol": {"shape": "house", "radius": 5.5, "fill": "#fbf8f1", "strokes": [{"colour": "#7a3b2e", "width": 1.4}]},
                },
                "lettering": {
                    "lines": [
                        {"text": "{bothy}", "size": 11.5, "weight": 500, "colour": "#5c2f24"},
                        {"text": "{beds} beds", "size": 10, "family": "narrow", "weight": 400, "colour": "#6b5a50"},
                    ],
                    "halo": 1.4, "halo_colour": "#f6f3ea", "priority": 1, "scales": {"farthest": 320_000},
                },
                "card": "### {{ bothy }}\n\n{{ beds }} beds{% if stove == 'yes' %}, a stove{% endif %}, built in {{ built }}",
            },
            {
                "id": "plants", "name": "Plant cover at dip wells, water table below 75 cm", "dataset": wells,
                "filter": "water_table_cm > 75",
                "symbology": {
                    "kind": "symbols",
                    "symbol": {"fill_opacity": 1, "strokes": [{"colour": "#ffffff", "width": 0.5}]},
                    "encodings": {
                        "size": {"by": "value", "field": "water_table_cm", "largest": 12},
                        "shares": {
                            "hollow": 0.45, "small": 0.04, "by": "shares",
                            "fields": [{"field": field, "colour": colour, "name": name} for field, colour, name in cover],
                        },
                    },
                },
                "effects": {"shadow": {"opacity": 0.45, "blur": 1.2, "right": 0.8, "down": 1.2}},
                "key": {"unit": "size: water table, cm below ground"},
                "card": "### Well {{ well }}\n\nWater table **{{ water_table_cm }} cm** below ground",
            },
            {
                "id": "ditches", "name": "Ditches", "dataset": ditches,
                "symbology": {
                    "kind": "symbols", "symbol": {"strokes": [{"colour": "#3f6f8f", "width": 0.9}]},
                    "rules": [
                        {
                            "id": "blocked", "name": "blocked", "where": "state = 'blocked'",
                            "symbol": {"strokes": [{"colour": "#8fa9b5", "width": 0.9, "dash": [2.5, 2], "cap": "butt"}]},
                        },
                        {"id": "open", "name": "open", "where": "state = 'open'", "symbol": {"strokes": [{"colour": "#2f6587", "width": 1.1}]}},
                    ],
                    "others": "left out",
                },
                "lettering": {
                    "lines": [{"text": "{ditch}", "size": 10, "family": "serif", "weight": 400, "italic": True, "colour": "#2f5f80", "spacing": 0.04}],
                    "course": "curved", "beside": True, "halo": 1.2, "halo_colour": "#f4f5f0", "scales": {"farthest": 40_000},
                },
            },
            {
                "id": "relief", "name": "Relief", "dataset": relief, "symbology": {"kind": "hillshade", "exaggeration": 1.4},
                "opacity": 0.75, "key": {"shown": False},
            },
        ],
        "view": VIEW,
        "furniture": {"ground": "#e9ece6", "credits": CREDITS, "source_date": "May 2026", "terms": TERMS},
        "reader": {
            "filters": [
                {"kind": "range", "layer": "plants", "field": "water_table_cm", "title": "Water table, cm below ground"},
                {"kind": "choices", "layer": "plants", "field": "condition", "title": "Condition of the peat"},
            ],
            "controls": {"share": True},
        },
    }  # fmt: skip


def slips_sheet(slips: str = "slips.csv", areas: str = "catchments_with_returns.geojson") -> dict[str, Any]:
    """Peat slips and fires: hexagons of how many there were, and by rules those that were large."""
    return {
        "version": 4,
        "title": "Seven years of slips and fires",
        "groups": [{"id": "events", "name": "Slips and fires", "effects": {"glow": {"colour": "#fbf8f1", "blur": 1.2}}}],
        "layers": [
            {
                "id": "large", "name": "Large ones", "dataset": slips, "group": "events",
                "symbology": {
                    "kind": "symbols",
                    "rules": [
                        {
                            "id": "fire", "name": "fire, over 800 m³ of peat", "where": "kind = 'fire' AND volume_m3 > 800",
                            "symbol": {"shape": "drop", "fill": "#b8452c", "radius": 4.2, "strokes": [{"colour": "#5c1f12", "width": 0.6}]},
                        },
                        {
                            "id": "slip", "name": "slip, over 1,500 m³ of peat", "where": "kind = 'slip' AND volume_m3 > 1500",
                            "symbol": {"shape": "triangle down", "fill": "#3f4f5c", "radius": 4.2, "strokes": [{"colour": "#ffffff", "width": 0.6}]},
                        },
                    ],
                    "others": "left out",
                    # The five largest of all.
                    "pins": {
                        "fids": [3028, 1284, 1943, 4741, 689], "field": "date", "colour": "#2b2b28",
                        "symbol": {"fill": "#f2c14e", "radius": 7.5, "strokes": [{"colour": "#2b2b28", "width": 0.8}]},
                    },
                },
                "card": "### {{ kind }} {{ event }}\n\n{{ date }}: {{ volume_m3 | number: 0 }} m³",
            },
            {
                "id": "cells", "name": "Slips and fires", "dataset": slips, "blend": "multiply",
                "reading": {"by": "grid", "shape": "hexagon", "size": 2000, "what": "count"},
                "symbology": {
                    "kind": "symbols", "symbol": {"strokes": [{"colour": "#ffffff", "width": 0.7}]},
                    "encodings": {
                        "colour": {
                            "by": "classes", "classing": {"field": "value", "method": "natural-breaks", "classes": 5}, "ramp": {"name": "ember"},
                        },
                    },
                },
            },
            {
                "id": "land", "name": "Land", "dataset": areas, "key": {"shown": False},
                "symbology": {
                    "kind": "symbols",
                    "symbol": {"fill": "#f6f2e8", "strokes": [{"colour": "#b9b29f", "width": 0.5}], "inner": {"colour": "#cfc7b2", "width": 1.5, "opacity": 0.5}},
                },
            },
        ],
        "view": VIEW,
        "furniture": {"ground": "#dfe6e8", "credits": CREDITS, "source_date": "May 2026", "terms": TERMS},
        "reader": {
            "time": {"layer": "large", "field": "date", "by": "month", "length": 3, "fade": True},
            "filters": [{"kind": "choices", "layer": "large", "field": "kind", "title": "What happened"}],
            "controls": {"full_screen": True, "share": True},
        },
    }  # fmt: skip
