"""The command line: the same core, without the web."""

import sys
from pathlib import Path
from typing import Annotated

import typer

from .core.errors import BadInput

app = typer.Typer(add_completion=False, no_args_is_help=True, rich_markup_mode=None, pretty_exceptions_enable=False)

Image = Annotated[Path, typer.Argument(help="the picture to restyle")]
Words = Annotated[str, typer.Option(help="kept in the recipe; this engine does not read words yet")]
AsJson = Annotated[bool, typer.Option("--json", help="print one JSON object")]
Size = Annotated[int, typer.Option(help="long side in pixels, 64 to 2048")]


@app.command()
def restyle(
    image: Image,
    out: Annotated[Path, typer.Option("-o", help="the PNG to write")],
    look: Annotated[str, typer.Option(help="a look's name, as `warmtide looks` lists them")] = "watercolour",
    look_weight: Annotated[float, typer.Option(help="how far the painter goes, 0 to 1.5")] = 1.0,
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
    as_json: AsJson = False,
) -> None:
    """Restyle one picture."""
    from . import commands

    commands.restyle(
        image, out, as_json, look=look, look_weight=look_weight, prompt=prompt, avoid=avoid, strength=strength,
        guidance=guidance, seed=seed, steps=steps, sampler=sampler, size=size, lines=hold_lines, shapes=hold_shapes,
        colours=hold_colours, faces=hold_faces,
    )  # fmt: skip


@app.command()
def sweep(
    image: Image,
    out: Annotated[Path, typer.Option("-o", help="the folder to write")],
    look: Annotated[str, typer.Option(help="one look, or several by comma")] = "watercolour",
    look_weight: str = "1.0",
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
    as_json: AsJson = False,
) -> None:
    """Restyle one picture over spans; write every take, sheet.png and readings.json."""
    from . import commands

    commands.sweep(
        image, out, as_json, {"prompt": prompt, "avoid": avoid, "size": size}, look=look, sampler=sampler, seed=seed,
        guidance=guidance, steps=steps, look_weight=look_weight, lines=hold_lines, shapes=hold_shapes,
        colours=hold_colours, faces=hold_faces, strength=strength,
    )  # fmt: skip


@app.command()
def measure(source: Path, take: Path, as_json: AsJson = False) -> None:
    """Read a take against its source."""
    from . import commands

    commands.measure(source, take, as_json)


@app.command()
def looks(as_json: AsJson = False) -> None:
    """List the looks."""
    from . import commands

    commands.looks(as_json)


@app.command()
def serve(
    host: str = "127.0.0.1",
    port: int = 8765,
    data: Annotated[Path | None, typer.Option(help="where the database and the pictures are kept")] = None,
    workers: Annotated[int | None, typer.Option(help="worker processes; one a core if not given")] = None,
    prepare: Annotated[bool, typer.Option("--prepare", help="make the database and the demo study, then end")] = False,
) -> None:
    """Start the database, the server and the workers."""
    from .launch import launch

    raise typer.Exit(launch(host, port, data, workers, prepare))


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
