"""Open data that packages ship, as a person would send them."""

import io
import zipfile
from pathlib import Path

import pyogrio
from libpysal import examples


def open_data(name: str, folder: Path) -> tuple[bytes, str]:
    """A zipped Shapefile or a GeoJSON, and its name."""
    if name == "countries":
        atlas = Path(__file__).parents[1] / "web" / "node_modules" / "world-atlas" / "countries-110m.json"
        frame = pyogrio.read_dataframe(atlas, layer="countries").set_crs(4326, allow_override=True)
        pyogrio.write_dataframe(frame, folder / "countries.geojson", driver="GeoJSON")
        return (folder / "countries.geojson").read_bytes(), "countries.geojson"
    home = Path(examples.__file__).parent / name
    shapes = next(file for file in sorted(home.rglob("*.shp")))
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w") as archive:
        for file in sorted(shapes.parent.glob(f"{shapes.stem}.*")):
            if file.suffix.lower() in (".shp", ".shx", ".dbf", ".prj", ".cpg"):
                archive.write(file, file.name)
    return sink.getvalue(), f"{name}.zip"
