"""Other engines: which there are, whether they keep to the protocol, and a simulated one."""

import json
from pathlib import Path

from ..core.model.errors import BadInput
from ..engines.known import Entry, checked_url, entries, keep

FILE = "engines.json"


def add(url: str, token_file: Path | None, ca_file: Path | None, path: Path) -> None:
    """Make an engine known; one of its name is known by the new address."""
    from ..engines.client import asked_about
    from ..engines.line import Address

    url = checked_url(url, token_file is not None)
    token, ca = (file.resolve() if file else None for file in (token_file, ca_file))
    if ca is not None and not ca.is_file():
        raise BadInput(f"{ca} is no file; --ca-file names the certificate of the engine's authority.")
    about = asked_about(Address(url, token, ca))
    entry = Entry(name=about.name, url=url, token_file=token, ca_file=ca, about=about)
    keep(path, (*(known for known in entries(path) if known.name != entry.name), entry))
    print(
        f"{about.title} ({about.name}, version {about.version}) is known: {len(about.looks)} looks, {about.at_once} takes at once."
    )


def listed(path: Path, as_json: bool) -> None:
    """Every engine that is known, and whether it answers."""
    from ..engines.client import asked_about

    found = []
    for entry in entries(path):
        try:
            version, answers = asked_about(entry.address, patient=False).version, True
        except BadInput:
            version, answers = entry.about.version, False
        found.append(
            {"name": entry.name, "title": entry.about.title, "url": entry.url, "version": version, "answers": answers}
        )
    if as_json:
        print(json.dumps(found))
        return
    print("built-in: the program's own.")
    for one in found:
        print(
            f"{one['name']}: {one['title']} {one['version']} at {one['url']}, {'answers' if one['answers'] else 'does not answer'}."
        )


def remove(name: str, path: Path) -> None:
    """Forget an engine; its takes stay."""
    known = entries(path)
    if name not in {entry.name for entry in known}:
        raise BadInput(f"There is no engine {name!r}; `warmtide engine list` says which there are.")
    keep(path, tuple(entry for entry in known if entry.name != name))
    print(f"{name} is not known any more; its takes stay.")


def check(url: str, token_file: Path | None, ca_file: Path | None, as_json: bool) -> int:
    """Whether an engine keeps to the protocol, check by check; 0 if it does."""
    from ..engines.check.run import run
    from ..engines.line import Address

    address = Address(checked_url(url, token_file is not None), token_file, ca_file)
    done = run(address, None if as_json else lambda outcome: print(outcome.line(), flush=True))
    failed = [outcome for outcome in done if outcome.fault and not outcome.skipped]
    if as_json:
        print(
            json.dumps(
                [
                    {"check": o.says, "passed": not o.fault and not o.skipped, "skipped": o.skipped, "fault": o.fault}
                    for o in done
                ]
            )
        )
    else:
        skipped = sum(o.skipped for o in done)
        print(f"{len(done) - len(failed) - skipped} passed, {len(failed)} failed, {skipped} not asked.")
    return int(bool(failed))


def stand_in(
    host: str,
    port: int,
    variant: str,
    delay: float,
    fail: float,
    wrong: str | None,
    token_file: Path | None,
    version: str,
) -> None:
    """Run a simulated engine until told to stop."""
    import uvicorn

    from ..engines.line import Address
    from ..engines.stand_in.app import Manner, create
    from ..engines.stand_in.paint import PAINTS
    from ..engines.stand_in.wrong import WRONG

    if variant not in PAINTS:
        raise BadInput(f"There is no variant {variant!r}; use {' or '.join(PAINTS)}.")
    if wrong is not None and wrong not in WRONG:
        raise BadInput(f"It can't be wrong in the way {wrong!r}; use one of {', '.join(WRONG)}.")
    if not 0 <= delay <= 600 or not 0 <= fail <= 1:
        raise BadInput("The delay goes from 0 to 600 seconds, the share that fails from 0 to 1.")
    token = Address("", token_file).token()
    app = create(Manner(variant, delay, fail, wrong, token, version=version))
    print(f"The simulated engine studio-{variant} is at http://{host}:{port}", flush=True)
    uvicorn.run(app, host=host, port=port, log_level="warning", timeout_graceful_shutdown=1)
