"""The demo's two sheets: one finished, one half done for the guide's walk-through."""

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
        "version": 2,
        "title": "Carbon in the peat of the Vaskerry Isles",
        "layers": [
            {
                "id": "wells", "name": "Water table below ground", "dataset": wells, "opacity": 0.95,
                "symbology": {
                    "kind": "graduated", "classing": {"field": "water_table_cm", "method": "quantile", "classes": 4},
                    "smallest": 1.0, "largest": 3.4, "fill": "#2f6f8c", "fill_opacity": 0.75,
                    "stroke": {"colour": "#ffffff", "width": 0.5}, "no_data": None,
                },
                "card": "### Well {{ well }}\n\nWater table **{{ water_table_cm }} cm** below ground, {{ condition }}",
            },
            {
                "id": "carbon", "name": "Carbon, t per ha of peat", "dataset": areas, "blend": "multiply", "key": {"unit": ""},
                "symbology": {
                    "kind": "classed",
                    "classing": {"field": "carbon_t", "normalise": {"by": "field", "field": "peat_ha"}, "method": "natural-breaks", "classes": 6},
                    "ramp": {"name": "heather"}, "stroke": {"colour": "#6b6258", "width": 0.5, "opacity": 0.8}, "no_data": "#e4e1d8",
                },
                "lettering": {"field": "name", "size": 10, "halo": 1.2, "halo_colour": "#fbf8f1", "colour": "#2b2b28"},
                "card": CARD,
            },
            {"id": "relief", "name": "Relief", "dataset": relief, "symbology": {"kind": "hillshade", "exaggeration": 1.6}, "opacity": 0.9, "key": {"shown": False}},
            {
                "id": "isles", "name": "Names of the isles", "dataset": isles, "key": {"shown": False},
                "symbology": {"kind": "single", "radius": 0, "fill_opacity": 0, "stroke": {"width": 0}},
                "lettering": {"field": "name", "size": 15, "colour": "#3d4b52", "halo": 1.5, "halo_colour": "#e3e9e8"},
            },
        ],
        "view": VIEW,
        "furniture": {"ground": "#e3e9e8", "scale_bar": True, "credits": CREDITS, "source_date": "May 2026"},
    }  # fmt: skip


def half_done_sheet(areas: str, peat: str) -> dict[str, Any]:
    """Catchments and peat depth, with the mistakes that the guide mends."""
    return {
        "version": 2,
        "title": "Money for restoration (half done)",
        "layers": [
            {
                "id": "money", "name": "Restoration money", "dataset": areas,
                "symbology": {
                    "kind": "classed", "classing": {"field": "restoration_money", "method": "equal-interval", "classes": 12},
                    "ramp": {"name": "slate"}, "fill_opacity": 0.8,
                },
                "card": "### {{ name }}\n\n{{ money }} spent",
            },
            {"id": "depth", "name": "Depth of peat, m", "dataset": peat, "symbology": {"kind": "raster-ramp", "ramp": {"name": "peat"}}},
        ],
        "view": VIEW,
    }  # fmt: skip
