"""The commands: what runs each, what it is for, and its options."""

from argparse import ArgumentParser
from collections.abc import Callable
from dataclasses import dataclass

from greylatch.classes.methods import METHODS
from greylatch.rasters.methods import RESAMPLINGS

__all__ = ["COMMANDS", "SIGNED", "Command"]

SIGNED = {"--bbox", "--breaks", "--zoom", "--row", "--min-zoom", "--max-zoom", "--where", "--field", "--expression"}
"""Options whose value may begin with a minus."""


@dataclass(frozen=True)
class Command:
    """A command. `run` is a module of this folder and a function in it: named, not imported, as a command loads only what it needs."""

    run: str
    help: str
    options: Callable[[ArgumentParser], None]


def _info(command: ArgumentParser) -> None:
    command.add_argument("file")
    _layer(command)
    _crs(command)
    command.add_argument("--json", action="store_true")


def _classify(command: ArgumentParser) -> None:
    command.add_argument("file")
    _crs(command)
    command.add_argument("--field", help='or an expression, such as "carbon_t / peat_ha"')
    command.add_argument("--band", type=int, metavar="N", help="of a raster, counted from 1")
    command.add_argument("--method", required=True, choices=METHODS)
    command.add_argument("--classes", type=int, default=5, metavar="K")
    command.add_argument("--breaks", metavar="a,b,c", help="upper limits, with --method manual")
    command.add_argument("--normalise-by", metavar="FIELD")
    command.add_argument("--weight", metavar="FIELD", help="how much each row counts: people, say")
    command.add_argument("--nice", action="store_true", help="limits at round numbers, and what that moves")
    command.add_argument("--json", action="store_true")


def _join(command: ArgumentParser) -> None:
    command.add_argument("areas")
    command.add_argument("table")
    command.add_argument("--area-key", required=True, metavar="F")
    command.add_argument("--table-key", required=True, metavar="F")
    command.add_argument("--out", metavar="FILE", help="write the joined areas as GeoJSON")
    command.add_argument("--suggest", action="store_true", help="name the areas that other spellings may mean")
    command.add_argument(
        "--summarise", metavar="FIELD=sum,…", help="of many rows: count, sum, mean, median, minimum, maximum, first"
    )
    command.add_argument("--cross-list", metavar="FILE", help=".json or .csv: which spelling stands for which area")
    command.add_argument("--json", action="store_true")
    _crs(command)


def _select(command: ArgumentParser) -> None:
    command.add_argument("file")
    command.add_argument("--where", required=True, metavar="CQL2", help='"peat_m > 2 AND S_WITHIN(geometry, other)"')
    command.add_argument("--other", metavar="FILE", help="whose shapes the condition calls `other`")
    command.add_argument("--out", metavar="FILE", help=".geojson, .gpkg, .parquet or .csv")
    command.add_argument("--json", action="store_true")
    _crs(command)


def _card(command: ArgumentParser) -> None:
    command.add_argument("file")
    command.add_argument("--template", required=True, metavar="TEXT|@FILE")
    command.add_argument("--row", type=int, required=True, metavar="N", help="counted from 0, as features are")
    _crs(command)


def _tiles(command: ArgumentParser) -> None:
    command.add_argument("raster")
    command.add_argument("--out", required=True, metavar="PATH", help=".pmtiles, .mbtiles, .zip or a folder")
    command.add_argument(
        "--matrix-set", default="WebMercatorQuad", metavar="NAME", help="also WorldCRS84Quad, EuropeanETRS89_LAEAQuad"
    )
    command.add_argument(
        "--rows", choices=("xyz", "tms"), default="xyz", help="counted from the top or from the bottom"
    )
    command.add_argument("--format", choices=("png", "webp"), default="png")
    command.add_argument("--min-zoom", type=int, metavar="N")
    command.add_argument("--max-zoom", type=int, metavar="N")
    command.add_argument("--size", type=int, choices=(256, 512), default=256)
    command.add_argument("--resampling", choices=RESAMPLINGS, default="bilinear")
    _crs(command)


def _draw(command: ArgumentParser) -> None:
    command.add_argument("sheet")
    command.add_argument("--out", required=True, metavar="PATH", help=".png, .pmtiles, .mbtiles, .zip or a folder")
    command.add_argument("--zoom", type=float, metavar="N")
    command.add_argument("--bbox", metavar="w,s,e,n", help="degrees")
    command.add_argument("--size", metavar="WxH", help="pixels, for a picture")
    _crs(command)


def _labels(command: ArgumentParser) -> None:
    command.add_argument("sheet")
    command.add_argument("--zoom", type=float, required=True, metavar="N")
    command.add_argument("--bbox", metavar="w,s,e,n", help="degrees")
    command.add_argument("--json", action="store_true")
    _crs(command)


def _key(command: ArgumentParser) -> None:
    command.add_argument("sheet")
    command.add_argument("--out", required=True, metavar="FILE", help=".svg, .png or .json")
    _crs(command)


def _publish(command: ArgumentParser) -> None:
    command.add_argument("sheet")
    command.add_argument("--out", required=True, metavar="FOLDER|FILE.zip")
    command.add_argument("--size", type=int, choices=(256, 512), default=256)
    command.add_argument("--format", choices=("png", "webp"), default="png")
    command.add_argument("--min-zoom", type=int, metavar="N")
    command.add_argument("--max-zoom", type=int, metavar="N")
    command.add_argument("--matrix-set", metavar="NAME", help="instead of the sheet's own projection")
    _crs(command)


def _reproject(command: ArgumentParser) -> None:
    command.add_argument("file")
    command.add_argument("--to", required=True, metavar="CRS", help="EPSG:8857, say, or a PROJ string")
    command.add_argument("--out", required=True, metavar="FILE", help=".parquet or .gpkg for shapes, .tif for a raster")
    _crs(command)


def _convert(command: ArgumentParser) -> None:
    command.add_argument("file")
    command.add_argument("--out", required=True, metavar="FILE", help=".geojson, .parquet, .gpkg, .fgb or .csv")
    _layer(command)
    command.add_argument("--fields", metavar="a,b=c", help="only these; b=c takes b and calls it c")
    command.add_argument("--where", metavar="CQL2", help="only the rows that a condition takes")
    command.add_argument("--simplify", type=float, metavar="METRES", help="fewer vertices; shared borders stay shared")
    command.add_argument("--to", metavar="CRS", help="EPSG:8857, say, or a PROJ string")
    _crs(command)


def _calculate(command: ArgumentParser) -> None:
    command.add_argument("file")
    command.add_argument("--field", required=True, metavar="NAME")
    command.add_argument("--expression", required=True, metavar="CQL2", help='"carbon_t / peat_ha"')
    command.add_argument("--out", required=True, metavar="FILE", help=".geojson, .parquet, .gpkg, .fgb or .csv")
    _crs(command)


def _doubts(command: ArgumentParser) -> None:
    command.add_argument("file")
    command.add_argument("--json", action="store_true")
    _crs(command)


def _locate(command: ArgumentParser) -> None:
    command.add_argument("table")
    command.add_argument("--name", required=True, metavar="FIELD", help="of the table")
    command.add_argument("--region", metavar="FIELD", help="of the table: in which region each is")
    command.add_argument("--gazetteer", required=True, metavar="FILE")
    command.add_argument("--gazetteer-name", required=True, metavar="F")
    command.add_argument("--gazetteer-region", metavar="F")
    command.add_argument("--gazetteer-alternatives", metavar="F", help="other names of each, parted by ; or |")
    command.add_argument("--out", metavar="FILE", help="the rows at their places: .geojson, .parquet, .gpkg or .fgb")
    command.add_argument("--json", action="store_true")
    _crs(command)


def _cut(command: ArgumentParser) -> None:
    command.add_argument("raster")
    command.add_argument("--out", required=True, metavar="FOLDER")
    command.add_argument("--columns", type=int, metavar="N")
    command.add_argument("--rows", type=int, metavar="M")
    command.add_argument("--size", metavar="WxH", help="512x512 for pixels, 2000x2000m or 0.5x0.5deg on the ground")
    command.add_argument(
        "--name", default="{name}_r{row}_c{column}", metavar="PATTERN", help="of {name}, {row}, {column}"
    )
    _crs(command)


def _suggest_projection(command: ArgumentParser) -> None:
    command.add_argument("file")
    _crs(command)
    command.add_argument("--json", action="store_true")


def _nothing(command: ArgumentParser) -> None:
    """No options."""


def _crs(command: ArgumentParser) -> None:
    command.add_argument("--crs", metavar="CODE", help="EPSG:32626, say, for files that do not say it themselves")


def _layer(command: ArgumentParser) -> None:
    command.add_argument("--layer", metavar="NAME", help="or sheet, or object, of a file with several")


COMMANDS = {
    "info": Command("info:info", "what a file holds", _info),
    "classify": Command("classify:classify_field", "class breaks of a field or of a raster's band", _classify),
    "join": Command("join:join_table", "join a table to areas by key", _join),
    "select": Command("rules:select", "the rows that a condition takes", _select),
    "card": Command("card:card", "a card filled with one row, as safe HTML", _card),
    "tiles": Command("tiles:cut", "cut a GeoTIFF into web map tiles", _tiles),
    "draw": Command("draw:draw_sheet", "draw a sheet as a picture or tiles", _draw),
    "labels": Command("labels:labels", "where a sheet's labels go, and which find no room", _labels),
    "key": Command("key:write_key", "a sheet's key as a picture, or what it says", _key),
    "publish": Command("publish:publish_sheet", "a sheet as an edition: tiles, open files, descriptions", _publish),
    "reproject": Command("projection:reproject", "shapes or a raster in another projection", _reproject),
    "convert": Command("convert:convert", "shapes and tables in another format", _convert),
    "calculate": Command("convert:calculate", "a field worked out of others", _calculate),
    "doubts": Command("doubts:doubts", "what a careful reader would ask about the data", _doubts),
    "locate": Command("locate:locate", "places found by their names in a gazetteer", _locate),
    "cut": Command("cut:cut_into_parts", "cut a GeoTIFF into parts, with an index of them", _cut),
    "suggest-projection": Command("projection:suggest", "which projections suit a file", _suggest_projection),
    "symbols": Command(
        "symbols:print_symbols", "what marks can be made of: shapes, patterns, ramps, blends, effects", _nothing
    ),
    "schema": Command("schema:print_schema", "the JSON Schema of the sheet document", _nothing),
}
