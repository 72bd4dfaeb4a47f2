"""The command line: the same core, without the web."""

import json
import sys
from pathlib import Path
from typing import Annotated, Any

import typer

from .core.arrays import Byte
from .core.engine.cache import SharedCache
from .core.errors import BadInput
from .core.finish.sheet import contact_sheet
from .core.framing import Framing, frame
from .core.image import Picture, decode, png
from .core.job import Rendered, render
from .core.looks.registry import looks as all_looks
from .core.readings.measure import measure as measure_take
from .core.recipe import Recipe, recipe_from
from .core.sweep import Span, expand, parse_values

app = typer.Typer(add_completion=False, no_args_is_help=True, rich_markup_mode=None, pretty_exceptions_enable=False)

Image = Annotated[Path, typer.Argument(help="the picture to restyle")]
LookName = Annotated[str, typer.Option("--look", help="a look's name, as `warmtide looks` lists them")]
Text = Annotated[str, typer.Option(help="words, kept in the recipe; this engine does not read them yet")]
AsJson = Annotated[bool, typer.Option("--json", help="print one JSON object")]
WORDS_NOTE = "Prompt and avoid are kept in the recipe, but this engine does not read words yet."


def _read(path: Path) -> Picture:
    try:
        return decode(path.read_bytes())
    except OSError as error:
        raise BadInput(f"{path} can't be read ({error.strerror}); name a picture file.") from None


def _write(path: Path, data: bytes) -> None:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
    except OSError as error:
        raise BadInput(f"{path} can't be written ({error.strerror}); name a place that can.") from None


def _say(done: int, steps: int) -> None:
    if sys.stderr.isatty():
        print(f"\r{done} of {steps}", end="" if done < steps else "\n", file=sys.stderr, flush=True)


def _saved(rendered: Rendered, recipe: Recipe, source: str) -> bytes:
    return png(rendered.picture, {"recipe": recipe.model_dump(), "key": rendered.key, "source": source})


@app.command()
def restyle(
    image: Image,
    out: Annotated[Path, typer.Option("-o", help="the PNG to write")],
    look: LookName = "watercolour",
    look_weight: float = 1.0,
    prompt: Text = "",
    avoid: Text = "",
    strength: float = 0.6,
    guidance: float = 5.0,
    seed: int = 7,
    steps: int = 20,
    sampler: str = "dpm++2m",
    size: int = 512,
    hold_lines: float = 0.7,
    hold_shapes: float = 0.7,
    hold_colours: float = 0.3,
    as_json: AsJson = False,
) -> None:
    """Restyle one picture."""
    holds = {"lines": hold_lines, "shapes": hold_shapes, "colours": hold_colours}
    recipe = recipe_from(
        dict(look=look, look_weight=look_weight, prompt=prompt, avoid=avoid, strength=strength, guidance=guidance,
             seed=seed, steps=steps, sampler=sampler, size=size, holds=holds)
    )  # fmt: skip
    source = frame(_read(image).rgba, Framing(), recipe.size)
    rendered = render(source, recipe, _say)
    _write(out, _saved(rendered, recipe, image.name))
    if prompt or avoid:
        print(WORDS_NOTE, file=sys.stderr)
    height, width = rendered.picture.shape[:2]
    result = {"seconds": rendered.seconds, "size": [width, height], "key": rendered.key, "readings": rendered.readings}
    print(json.dumps(result) if as_json else f"{out}: {width} x {height}, {rendered.seconds:.2f} s")


@app.command()
def sweep(
    image: Image,
    out: Annotated[Path, typer.Option("-o", help="the folder to write")],
    look: Annotated[str, typer.Option(help="one look, or several by comma")] = "watercolour",
    look_weight: str = "1.0",
    prompt: Text = "",
    avoid: Text = "",
    strength: str = "0.6",
    guidance: str = "5",
    seed: str = "7",
    steps: str = "20",
    sampler: str = "dpm++2m",
    size: int = 512,
    hold_lines: str = "0.7",
    hold_shapes: str = "0.7",
    hold_colours: str = "0.3",
    as_json: AsJson = False,
) -> None:
    """Restyle one picture over spans: 0.2..0.9/8 is eight values, 3,6,9 a list."""
    given: dict[str, list[Any]] = {
        "look": look.split(","), "sampler": sampler.split(","),
        **{name: parse_values(text, name) for name, text in (
            ("seed", seed), ("guidance", guidance), ("steps", steps), ("look_weight", look_weight),
            ("lines", hold_lines), ("shapes", hold_shapes), ("colours", hold_colours), ("strength", strength),
        )},
    }  # fmt: skip
    spans = [Span(control=name, values=tuple(values)) for name, values in given.items() if len(values) > 1]
    first = recipe_from(dict(prompt=prompt, avoid=avoid, size=size))
    base = first.changed(**{name: values[0] for name, values in given.items()})
    recipes = expand(base, spans)
    source = frame(_read(image).rgba, Framing(), size)
    cache = SharedCache()
    cells: list[tuple[str, Byte]] = []
    takes = []
    for number, recipe in enumerate(recipes, 1):
        rendered = render(source, recipe, None, cache)
        name = f"take-{number:03d}.png"
        _write(out / name, _saved(rendered, recipe, image.name))
        values = {**recipe.model_dump(), **recipe.holds.model_dump()}
        cells.append((", ".join(f"{s.control} {values[s.control]}" for s in spans), rendered.picture))
        entry = {"file": name, "recipe": recipe.model_dump(), "key": rendered.key, "seconds": rendered.seconds}
        takes.append({**entry, "readings": rendered.readings})
        _say(number, len(recipes))
    columns = len(spans[-1].values) if spans else 1
    _write(out / "sheet.png", png(contact_sheet(source, cells, columns)))
    report = json.dumps({"source": image.name, "takes": takes}, indent=None if as_json else 1)
    _write(out / "readings.json", report.encode())
    if prompt or avoid:
        print(WORDS_NOTE, file=sys.stderr)
    print(report if as_json else f"{out}: {len(takes)} takes, sheet.png, readings.json")


@app.command()
def measure(source: Path, take: Path, as_json: AsJson = False) -> None:
    """Read a take against its source."""
    taken = frame(_read(take).rgba, Framing(), max(_read(take).rgba.shape[:2]))
    framed = frame(_read(source).rgba, Framing(), max(taken.shape[:2]))
    readings = measure_take(framed, taken)
    del readings["version"]
    if as_json:
        print(json.dumps(readings))
    else:
        print(f"composition kept {readings['composition']}, colour kept {readings['colour']}")


@app.command()
def looks(as_json: AsJson = False) -> None:
    """List the looks."""
    found = [
        {"name": look.name, "category": look.category, "kinds": list(look.kinds), "description": look.description,
         "strengths": list(look.strengths)}
        for look in all_looks().values()
    ]  # fmt: skip
    if as_json:
        print(json.dumps({"looks": found}))
        return
    for look in found:
        print(f"{look['name']:14} {look['category']:9} {look['description']}")


@app.command()
def serve(
    host: str = "127.0.0.1",
    port: int = 8765,
    data: Annotated[Path | None, typer.Option(help="where the database and the pictures are kept")] = None,
    workers: Annotated[int | None, typer.Option(help="worker processes; one a core if not given")] = None,
) -> None:
    """Start the database, the server and the workers."""
    from .launch import launch

    raise typer.Exit(launch(host, port, data, workers))


@app.command()
def worker() -> None:
    """Render takes from the queue of the database named in WARMTIDE_DATABASE."""
    from .work.worker import run

    run()


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
