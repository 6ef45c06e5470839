"""The command line: the same rules without a server. Exit 0 on success, 2 on bad input with one line on standard error."""

import argparse
import re
import sys
from collections.abc import Sequence
from importlib import import_module
from importlib.abc import MetaPathFinder

from greylatch.classes.methods import METHODS
from greylatch.errors import BadInput
from greylatch.rasters.methods import RESAMPLINGS

__all__ = ["main"]

BAD_INPUT = 2
SIGNED = {"--bbox", "--breaks", "--zoom", "--row", "--min-zoom", "--max-zoom", "--where", "--field", "--expression"}


class _Parser(argparse.ArgumentParser):
    """argparse with a single clear line on a mistake."""

    def error(self, message: str):  # type: ignore[no-untyped-def]
        print(f"greylatch: {message} (see '{self.prog} --help')", file=sys.stderr)
        raise SystemExit(BAD_INPUT)


class _WithoutPandas(MetaPathFinder):
    """Finds no pandas in a process of the command line.

    pyarrow imports pandas, where it happens to be installed, at the first column that becomes numpy's: a quarter of a
    second in which a small file is read, for something that no command uses.
    """

    def find_spec(self, name: str, path: object = None, target: object = None) -> None:
        if name == "pandas":
            raise ModuleNotFoundError("pandas is not loaded by the command line", name=name)


def parser() -> argparse.ArgumentParser:
    """All commands and their options."""
    top = _Parser(prog="greylatch", description="Classified thematic maps from tables and rasters.")
    commands = top.add_subparsers(dest="command", required=True, metavar="COMMAND", parser_class=_Parser)

    info = _command(commands, "info", "info:info", "what a file holds")
    info.add_argument("file")
    _layer(info)
    _crs(info)
    info.add_argument("--json", action="store_true")

    classify = _command(
        commands, "classify", "classify:classify_field", "class breaks of a field or of a raster's band"
    )
    classify.add_argument("file")
    _crs(classify)
    classify.add_argument("--field", help='or an expression, such as "carbon_t / peat_ha"')
    classify.add_argument("--band", type=int, metavar="N", help="of a raster, counted from 1")
    classify.add_argument("--method", required=True, choices=METHODS)
    classify.add_argument("--classes", type=int, default=5, metavar="K")
    classify.add_argument("--breaks", metavar="a,b,c", help="upper limits, with --method manual")
    classify.add_argument("--normalise-by", metavar="FIELD")
    classify.add_argument("--weight", metavar="FIELD", help="how much each row counts: people, say")
    classify.add_argument("--nice", action="store_true", help="limits at round numbers, and what that moves")
    classify.add_argument("--json", action="store_true")

    join = _command(commands, "join", "join:join_table", "join a table to areas by key")
    join.add_argument("areas")
    join.add_argument("table")
    join.add_argument("--area-key", required=True, metavar="F")
    join.add_argument("--table-key", required=True, metavar="F")
    join.add_argument("--out", metavar="FILE", help="write the joined areas as GeoJSON")
    join.add_argument("--suggest", action="store_true", help="name the areas that other spellings may mean")
    join.add_argument(
        "--summarise", metavar="FIELD=sum,…", help="of many rows: count, sum, mean, median, minimum, maximum, first"
    )
    join.add_argument("--cross-list", metavar="FILE", help=".json or .csv: which spelling stands for which area")
    join.add_argument("--json", action="store_true")
    _crs(join)

    chosen = _command(commands, "select", "rules:select", "the rows that a condition takes")
    chosen.add_argument("file")
    chosen.add_argument("--where", required=True, metavar="CQL2", help='"peat_m > 2 AND S_WITHIN(geometry, other)"')
    chosen.add_argument("--other", metavar="FILE", help="whose shapes the condition calls `other`")
    chosen.add_argument("--out", metavar="FILE", help=".geojson, .gpkg, .parquet or .csv")
    chosen.add_argument("--json", action="store_true")
    _crs(chosen)

    card = _command(commands, "card", "card:card", "a card filled with one row, as safe HTML")
    card.add_argument("file")
    card.add_argument("--template", required=True, metavar="TEXT|@FILE")
    card.add_argument("--row", type=int, required=True, metavar="N", help="counted from 0, as features are")
    _crs(card)

    cut = _command(commands, "tiles", "tiles:cut", "cut a GeoTIFF into web map tiles")
    cut.add_argument("raster")
    cut.add_argument("--out", required=True, metavar="PATH", help=".pmtiles, .mbtiles, .zip or a folder")
    cut.add_argument(
        "--matrix-set", default="WebMercatorQuad", metavar="NAME", help="also WorldCRS84Quad, EuropeanETRS89_LAEAQuad"
    )
    cut.add_argument("--rows", choices=("xyz", "tms"), default="xyz", help="counted from the top or from the bottom")
    cut.add_argument("--format", choices=("png", "webp"), default="png")
    cut.add_argument("--min-zoom", type=int, metavar="N")
    cut.add_argument("--max-zoom", type=int, metavar="N")
    cut.add_argument("--size", type=int, choices=(256, 512), default=256)
    cut.add_argument("--resampling", choices=RESAMPLINGS, default="bilinear")
    _crs(cut)

    drawn = _command(commands, "draw", "draw:draw_sheet", "draw a sheet as a picture or tiles")
    drawn.add_argument("sheet")
    drawn.add_argument("--out", required=True, metavar="PATH", help=".png, .pmtiles, .mbtiles, .zip or a folder")
    drawn.add_argument("--zoom", type=float, metavar="N")
    drawn.add_argument("--bbox", metavar="w,s,e,n", help="degrees")
    drawn.add_argument("--size", metavar="WxH", help="pixels, for a picture")
    _crs(drawn)

    named = _command(commands, "labels", "labels:labels", "where a sheet's labels go, and which find no room")
    named.add_argument("sheet")
    named.add_argument("--zoom", type=float, required=True, metavar="N")
    named.add_argument("--bbox", metavar="w,s,e,n", help="degrees")
    named.add_argument("--json", action="store_true")
    _crs(named)

    key = _command(commands, "key", "key:write_key", "a sheet's key as a picture, or what it says")
    key.add_argument("sheet")
    key.add_argument("--out", required=True, metavar="FILE", help=".svg, .png or .json")
    _crs(key)

    left = _command(
        commands, "publish", "publish:publish_sheet", "a sheet as an edition: tiles, open files, descriptions"
    )
    left.add_argument("sheet")
    left.add_argument("--out", required=True, metavar="FOLDER|FILE.zip")
    left.add_argument("--size", type=int, choices=(256, 512), default=256)
    left.add_argument("--format", choices=("png", "webp"), default="png")
    left.add_argument("--min-zoom", type=int, metavar="N")
    left.add_argument("--max-zoom", type=int, metavar="N")
    left.add_argument("--matrix-set", metavar="NAME", help="instead of the sheet's own projection")
    _crs(left)

    moved = _command(commands, "reproject", "projection:reproject", "shapes or a raster in another projection")
    moved.add_argument("file")
    moved.add_argument("--to", required=True, metavar="CRS", help="EPSG:8857, say, or a PROJ string")
    moved.add_argument("--out", required=True, metavar="FILE", help=".parquet or .gpkg for shapes, .tif for a raster")
    _crs(moved)

    other = _command(commands, "convert", "convert:convert", "shapes and tables in another format")
    other.add_argument("file")
    other.add_argument("--out", required=True, metavar="FILE", help=".geojson, .parquet, .gpkg, .fgb or .csv")
    _layer(other)
    other.add_argument("--fields", metavar="a,b=c", help="only these; b=c takes b and calls it c")
    other.add_argument("--where", metavar="CQL2", help="only the rows that a condition takes")
    other.add_argument("--simplify", type=float, metavar="METRES", help="fewer vertices; shared borders stay shared")
    other.add_argument("--to", metavar="CRS", help="EPSG:8857, say, or a PROJ string")
    _crs(other)

    worked = _command(commands, "calculate", "convert:calculate", "a field worked out of others")
    worked.add_argument("file")
    worked.add_argument("--field", required=True, metavar="NAME")
    worked.add_argument("--expression", required=True, metavar="CQL2", help='"carbon_t / peat_ha"')
    worked.add_argument("--out", required=True, metavar="FILE", help=".geojson, .parquet, .gpkg, .fgb or .csv")
    _crs(worked)

    asked = _command(commands, "doubts", "doubts:doubts", "what a careful reader would ask about the data")
    asked.add_argument("file")
    asked.add_argument("--json", action="store_true")
    _crs(asked)

    where = _command(commands, "locate", "locate:locate", "places found by their names in a gazetteer")
    where.add_argument("table")
    where.add_argument("--name", required=True, metavar="FIELD", help="of the table")
    where.add_argument("--region", metavar="FIELD", help="of the table: in which region each is")
    where.add_argument("--gazetteer", required=True, metavar="FILE")
    where.add_argument("--gazetteer-name", required=True, metavar="F")
    where.add_argument("--gazetteer-region", metavar="F")
    where.add_argument("--gazetteer-alternatives", metavar="F", help="other names of each, parted by ; or |")
    where.add_argument("--out", metavar="FILE", help="the rows at their places: .geojson, .parquet, .gpkg or .fgb")
    where.add_argument("--json", action="store_true")
    _crs(where)

    parts = _command(commands, "cut", "cut:cut_into_parts", "cut a GeoTIFF into parts, with an index of them")
    parts.add_argument("raster")
    parts.add_argument("--out", required=True, metavar="FOLDER")
    parts.add_argument("--columns", type=int, metavar="N")
    parts.add_argument("--rows", type=int, metavar="M")
    parts.add_argument("--size", metavar="WxH", help="512x512 for pixels, 2000x2000m or 0.5x0.5deg on the ground")
    parts.add_argument(
        "--name", default="{name}_r{row}_c{column}", metavar="PATTERN", help="of {name}, {row}, {column}"
    )
    _crs(parts)

    suits = _command(commands, "suggest-projection", "projection:suggest", "which projections suit a file")
    suits.add_argument("file")
    _crs(suits)
    suits.add_argument("--json", action="store_true")

    _command(
        commands,
        "symbols",
        "symbols:print_symbols",
        "what marks can be made of: shapes, patterns, ramps, blends, effects",
    )

    _command(commands, "schema", "schema:print_schema", "the JSON Schema of the sheet document")
    return top


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit status."""
    if arguments is None:
        sys.meta_path.insert(0, _WithoutPandas())
    options = parser().parse_args(_joined(sys.argv[1:] if arguments is None else arguments))
    try:
        module, function = options.run.split(":")
        getattr(import_module(f"greylatch.cli.{module}"), function)(options)
    except BadInput as error:
        return _failed(str(error))
    except BrokenPipeError:
        return 0
    except KeyboardInterrupt:
        return _failed("Stopped.")
    except MemoryError:
        return _failed("The input does not fit into memory.")
    except OSError as error:
        return _failed(f"{error.filename or ''} cannot be used: {error.strerror or error}.".strip())
    return 0


def _crs(command: argparse.ArgumentParser) -> None:
    command.add_argument("--crs", metavar="CODE", help="EPSG:32626, say, for files that do not say it themselves")


def _layer(command: argparse.ArgumentParser) -> None:
    command.add_argument("--layer", metavar="NAME", help="or sheet, or object, of a file with several")


def _joined(arguments: Sequence[str]) -> list[str]:
    """Options whose value begins with a minus ('--bbox -27,51,-26,52') joined with it, or it would be taken for an option."""
    out: list[str] = []
    for argument in arguments:
        if out and out[-1] in SIGNED and re.match(r"-[\d.]", argument):
            out[-1] += f"={argument}"
        else:
            out.append(argument)
    return out


def _command(commands, name: str, run: str, help: str) -> argparse.ArgumentParser:  # type: ignore[no-untyped-def]
    command: argparse.ArgumentParser = commands.add_parser(
        name, help=help, description=help[0].upper() + help[1:] + "."
    )
    # Named, not imported: a command loads only what it needs.
    command.set_defaults(run=run)
    return command


def _failed(text: str) -> int:
    print(f"greylatch: {' '.join(text.split())}", file=sys.stderr)
    return BAD_INPUT


if __name__ == "__main__":
    sys.exit(main())
