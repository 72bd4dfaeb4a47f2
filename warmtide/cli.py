"""The command line: the same core, without the web."""

import sys
from pathlib import Path
from typing import Annotated

import typer

from . import owner
from .core.model.errors import BadInput

app = typer.Typer(add_completion=False, no_args_is_help=True, rich_markup_mode=None, pretty_exceptions_enable=False)

Image = Annotated[Path, typer.Argument(help="the picture to restyle")]
SecondLook = Annotated[str | None, typer.Option(help="a look to mix in, as for --look")]
Words = Annotated[str, typer.Option(help="phrases separated by commas, weighed like mist^1.4")]
Region = Annotated[Path | None, typer.Option(help="a grey picture: white may change, black keeps every bit")]
Depth = Annotated[Path | None, typer.Option(help="a grey picture, white near, for the hold on depth")]
Face = Annotated[
    list[str] | None,
    typer.Option(help="x,y,width or x,y,width,lean of a face in shares of the long side; 'none' for no faces"),
]
Place = Annotated[
    str | None,
    typer.Option(help="x,y,height[,stands|floats|hangs]: where a cut-out is put before the scene named, in shares"),
]
AsJson = Annotated[bool, typer.Option("--json", help="print one JSON object")]
Size = Annotated[int, typer.Option(help="long side in pixels, 64 to 2048")]


@app.command()
def restyle(
    image: Image,
    out: Annotated[Path, typer.Option("-o", help="the PNG to write")],
    look: Annotated[
        str, typer.Option(help="a look's name, as `warmtide looks` lists them, or a learned look's .npz")
    ] = "watercolour",
    look_weight: Annotated[float, typer.Option(help="how far the painter goes, 0 to 1.5")] = 1.0,
    second_look: SecondLook = None,
    second_share: Annotated[float, typer.Option(help="share of the second look, 0 to 1")] = 0.5,
    prompt: Words = "",
    avoid: Words = "",
    strength: Annotated[float, typer.Option(help="0 returns the source, 1 ignores it")] = 0.5,
    guidance: Annotated[float, typer.Option(help="how hard the look pulls, 1 to 30")] = 5.0,
    seed: int = 7,
    steps: Annotated[int, typer.Option(help="strength x steps are run")] = 20,
    sampler: Annotated[str, typer.Option(help="dpm++2m, euler or euler-ancestral")] = "dpm++2m",
    size: Size = 512,
    hold_lines: float = 0.7,
    hold_shapes: float = 0.7,
    hold_colours: float = 0.3,
    hold_faces: float = 0.85,
    hold_subject: float = 0.4,
    hold_depth: float = 0.0,
    quality: Annotated[
        str, typer.Option(help="full, or draft (256 px) or glimpse (128 px): small, quick and the same picture")
    ] = "full",
    region: Region = None,
    depth: Depth = None,
    face: Face = None,
    placement: Place = None,
    as_json: AsJson = False,
) -> None:
    """Restyle one picture."""
    from .commands import guides, restyling

    restyling.restyle(
        image, out, as_json, guides.guides_from(region, depth, face), look=look, look_weight=look_weight,
        second_look=second_look, second_share=second_share if second_look else 0.0, prompt=prompt, avoid=avoid, strength=strength,
        guidance=guidance, seed=seed, steps=steps, sampler=sampler, size=size, lines=hold_lines, shapes=hold_shapes,
        colours=hold_colours, faces=hold_faces, subject=hold_subject, depth=hold_depth, quality=quality, placement=guides.placement_from(placement),
    )  # fmt: skip


@app.command()
def sweep(
    image: Image,
    out: Annotated[Path, typer.Option("-o", help="the folder to write")],
    look: Annotated[str, typer.Option(help="one look, or several by comma")] = "watercolour",
    look_weight: str = "1.0",
    second_look: SecondLook = None,
    second_share: Annotated[str, typer.Option(help="share of the second look, 0 to 1")] = "0.5",
    prompt: Words = "",
    avoid: Words = "",
    strength: Annotated[str, typer.Option(help="0.2..0.9/8 is eight values, 0.3,0.6 a list")] = "0.5",
    guidance: str = "5",
    seed: str = "7",
    steps: str = "20",
    sampler: str = "dpm++2m",
    size: Size = 512,
    hold_lines: str = "0.7",
    hold_shapes: str = "0.7",
    hold_colours: str = "0.3",
    hold_faces: str = "0.85",
    hold_subject: str = "0.4",
    hold_depth: str = "0",
    quality: Annotated[str, typer.Option(help="full, draft or glimpse")] = "full",
    region: Region = None,
    depth: Depth = None,
    face: Face = None,
    as_json: AsJson = False,
) -> None:
    """Restyle one picture over spans; write every take, sheet.png and readings.json."""
    from .commands import guides, restyling

    restyling.sweep(
        image, out, as_json, guides.guides_from(region, depth, face),
        {"prompt": prompt, "avoid": avoid, "size": size, "quality": quality, "second_look": second_look}, look=look, sampler=sampler, seed=seed,
        guidance=guidance, steps=steps, look_weight=look_weight, second_share=second_share if second_look else "0", lines=hold_lines, shapes=hold_shapes,
        colours=hold_colours, faces=hold_faces, subject=hold_subject, depth=hold_depth, strength=strength,
    )  # fmt: skip


@app.command()
def learn(
    references: Annotated[list[Path], typer.Argument(help="one to ten pictures in the look")],
    out: Annotated[Path, typer.Option("-o", help="the .npz to write")],
    name: Annotated[str, typer.Option(help="what to call the look")] = "",
    marks: Annotated[
        float | None, typer.Option(help="size of the marks, 1 as in the pictures; chosen if not given")
    ] = None,
    as_json: AsJson = False,
) -> None:
    """Learn a look from reference pictures."""
    from .commands import looks

    looks.learn(references, out, as_json, name, marks)


@app.command()
def mix(
    pictures: Annotated[list[Path], typer.Argument(help="two or three pictures; the first gives the shape")],
    out: Annotated[Path, typer.Option("-o", help="the PNG to write")],
    weights: Annotated[str, typer.Option(help="one a picture, such as 0.6,0.4; alike if not given")] = "",
    size: Size = 1024,
) -> None:
    """Mix pictures into one starting point: layout from the heavier, detail from each."""
    from .commands import mixing

    mixing.mix(pictures, out, weights, size)


@app.command()
def cut(
    image: Annotated[Path, typer.Argument(help="the picture to cut from")],
    out: Annotated[Path, typer.Option("-o", help="the PNG to write, with transparency")],
    what: Annotated[str, typer.Option(help="subject: what is found first; person or flat: only that")] = "subject",
    points: Annotated[Path | None, typer.Option(help="strokes in and out, as docs/formats.md says")] = None,
    as_json: AsJson = False,
) -> None:
    """Cut what a picture is about out of it, with soft edges and clean colours."""
    from .commands import cutting

    cutting.cut(image, out, what, points, as_json)


@app.command()
def enlarge(
    image: Annotated[Path, typer.Argument(help="the picture to make larger")],
    out: Annotated[Path, typer.Option("-o", help="the PNG to write")],
    factor: Annotated[float | None, typer.Option(help="times as large a side, 1 to 16; 2 if nothing is given")] = None,
    size: Annotated[int | None, typer.Option(help="long side in pixels, to 8192")] = None,
    way: Annotated[
        str, typer.Option(help="painted, fine, detail, edges, lanczos, bicubic, bilinear, area or nearest")
    ] = "edges",
    sources: Annotated[
        Path | None, typer.Option(help="folder of the source, for painted and fine; the picture's own if not given")
    ] = None,
    as_json: AsJson = False,
) -> None:
    """Make a picture larger."""
    from .commands import finishing

    finishing.enlarge(image, out, factor, size, way, sources, as_json)


@app.command()
def trace(
    image: Annotated[Path, typer.Argument(help="the picture to trace")],
    out: Annotated[Path, typer.Option("-o", help="the SVG to write")],
    how: Annotated[str | None, typer.Option("--as", help="areas, lines or outlines; by its kind if not given")] = None,
    colours: Annotated[int | None, typer.Option(help="of areas, 2 to 32; as many as it has if not given")] = None,
    as_json: AsJson = False,
) -> None:
    """Trace a picture to an SVG of areas, lines or outlines."""
    from .commands import finishing

    finishing.trace(image, out, how, colours, as_json)


@app.command()
def replay(
    file: Annotated[Path, typer.Argument(help="a saved picture with its recipe inside")],
    sources: Annotated[
        list[Path] | None,
        typer.Option(help="a folder of originals, or the file of a study; the picture's own folder if not given"),
    ] = None,
    out: Annotated[Path | None, typer.Option("-o", help="the PNG to write")] = None,
    as_json: AsJson = False,
) -> None:
    """Make a saved picture again from itself and its original, and say whether every pixel is the same."""
    from .commands import replaying

    raise typer.Exit(replaying.replayed(file, sources or [], out, as_json))


@app.command()
def export(
    images: Annotated[list[Path], typer.Argument(help="pictures, saved takes among them")],
    out: Annotated[Path, typer.Option("-o", help="the file to write, or a folder for several")],
    form: Annotated[
        str | None,
        typer.Option(
            "--format", help="png, jpeg, webp, avif, tiff, pdf, svg or ora; by the file's ending if not given"
        ),
    ] = None,
    size: Annotated[int | None, typer.Option(help="long side in pixels, 16 to 8192; as it is if not given")] = None,
    depth: Annotated[int, typer.Option(help="bits a channel, 8 or 16 (PNG and TIFF)")] = 8,
    dpi: Annotated[int, typer.Option(help="pixels an inch, written into the file, 36 to 2400")] = 300,
    quality: Annotated[int, typer.Option(help="of JPEG, WebP and AVIF, 1 to 100")] = 90,
    profile: Annotated[bool, typer.Option(help="embed the profile of sRGB")] = True,
    ground: Annotated[str | None, typer.Option(help="colour behind transparency, as #rrggbb")] = None,
    recipe: Annotated[bool, typer.Option(help="the recipe inside the file")] = True,
    name: Annotated[str | None, typer.Option(help="names by a pattern, like '{look}-{seed}-{number}'")] = None,
    as_json: AsJson = False,
) -> None:
    """Write pictures in another format."""
    from .commands import exporting

    exporting.export(
        images, out, form, name, as_json,
        size=size, depth=depth, dpi=dpi, quality=quality, profile=profile, ground=ground, recipe=recipe,
    )  # fmt: skip


@app.command()
def measure(source: Path, take: Path, as_json: AsJson = False) -> None:
    """Read a take against its source."""
    from .commands import reading

    reading.measure(source, take, as_json)


@app.command()
def looks(as_json: AsJson = False) -> None:
    """List the looks."""
    from .commands import looks

    looks.looks(as_json)


@app.command()
def describe(image: Image, as_json: AsJson = False) -> None:
    """Say what a picture seems to be, as phrases, each with how sure it is."""
    from .commands import reading

    reading.describe(image, as_json)


@app.command()
def scene(
    words: Annotated[
        str, typer.Argument(help="a place with its light and weather, like 'cliff edge, daylight, gulls'")
    ],
    out: Annotated[Path, typer.Option("-o", help="the PNG to write")],
    size: Annotated[str, typer.Option(help="width x height in pixels, like 768x512")] = "512x512",
    seed: int = 1,
    layout: Annotated[Path | None, typer.Option(help="a picture whose horizon, skyline and colours it follows")] = None,
    as_json: AsJson = False,
) -> None:
    """Draw a place from words."""
    from .commands.scenes import scene as run

    run(words, out, size, seed, layout, as_json)


@app.command()
def serve(
    host: str = "127.0.0.1",
    port: int = 8765,
    data: Annotated[Path | None, typer.Option(help="where the database and the pictures are kept")] = None,
    workers: Annotated[int | None, typer.Option(help="worker processes; one a core if not given")] = None,
    prepare: Annotated[bool, typer.Option("--prepare", help="make the database and the demo study, then end")] = False,
    no_database: Annotated[
        bool, typer.Option("--no-database", help="use the one that --database names, start none")
    ] = False,
    database: owner.DatabaseUrl = None,
    store: owner.StoreUrl = None,
    store_endpoint: owner.StoreEndpoint = None,
    store_keys: owner.StoreKeys = None,
) -> None:
    """Start the database, the server and the workers."""
    from .launch import Launch, launch

    owner.name_places(database, store, store_endpoint, store_keys)
    owner.check_pair(no_database, database)
    raise typer.Exit(launch(Launch(host, port, data, workers, prepare, database if no_database else None)))


@app.command()
def reread(
    study: Annotated[str, typer.Option(help="only this study, by its number")] = "",
    everything: Annotated[bool, typer.Option("--all", help="also what today's readings have read already")] = False,
    data: Annotated[Path | None, typer.Option(help="the data folder, as for serve")] = None,
) -> None:
    """Read finished takes again with the readings of today, whether the program is running or not."""
    from .commands import keeping

    keeping.reread(study, everything, data)


@app.command()
def check(
    repair: Annotated[bool, typer.Option("--repair", help="mend what can be: render lost takes again")] = False,
    data: Annotated[Path | None, typer.Option(help="the data folder, as for serve")] = None,
) -> None:
    """Verify every picture that is kept, whether the program is running or not."""
    from .commands import keeping

    keeping.check(repair, data)


app.add_typer(owner.studies, name="study")
app.add_typer(owner.engine, name="engine")
app.command()(owner.engine_stand_in)
app.command()(owner.worker)


def main(arguments: list[str] | None = None) -> int:
    """Run a command; bad input is one line on standard error and exit code 2."""
    command = typer.main.get_command(app)
    try:
        outcome = command.main(args=arguments, prog_name="warmtide", standalone_mode=False)
        return outcome if isinstance(outcome, int) else 0
    except BadInput as error:
        print(f"warmtide: {error}", file=sys.stderr)
        return 2
    except KeyboardInterrupt:
        return 130
    except Exception as error:
        # The command-line library's own usage errors; anything else is a fault of ours and keeps its trace.
        message = getattr(error, "format_message", None)
        if message is None:
            raise
        print(f"warmtide: {' '.join(message().split())}", file=sys.stderr)
        return 2
