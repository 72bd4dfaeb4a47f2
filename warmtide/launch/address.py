"""Where the server listens, and who may come in from elsewhere."""

import errno
import ipaddress
import secrets
import socket
from pathlib import Path

from .refusal import Refusal

_PORTS = (1, 65535)


def is_loopback(host: str) -> bool:
    """Whether only this machine reaches a host."""
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False


def is_everywhere(host: str) -> bool:
    return host in ("0.0.0.0", "::")


def here(host: str) -> str:
    """The address under which this machine reaches its own server, as it stands in a URL."""
    found = {"0.0.0.0": "127.0.0.1", "::": "::1"}.get(host, host)
    return f"[{found}]" if ":" in found else found


def outward(host: str) -> str:
    """The address under which others reach it, as far as this machine knows."""
    if not is_everywhere(host):
        return here(host)
    family, far = (socket.AF_INET6, "2001:db8::1") if host == "::" else (socket.AF_INET, "192.0.2.1")
    with socket.socket(family, socket.SOCK_DGRAM) as probe:
        try:
            # Nothing is sent: the system only says which of its addresses it would use.
            probe.connect((far, 9))
            found = probe.getsockname()[0]
        except OSError:
            return socket.gethostname()
    return f"[{found}]" if ":" in found else str(found)


def names_of(host: str) -> str:
    """Names that requests may call the server by, by comma; `any-address` stands for every number address."""
    own = ["127.0.0.1", "localhost", "[::1]"]
    if is_everywhere(host):
        name = socket.gethostname()
        return ",".join([*own, "any-address", name, f"{name}.local"])
    return ",".join(dict.fromkeys([here(host), *own]))


def check(host: str, port: int) -> None:
    """Whether the server can listen there.

    Raises
    ------
    Refusal : it can't, and why.
    """
    if not _PORTS[0] <= port <= _PORTS[1]:
        raise Refusal(f"{port} is no port; ports go from {_PORTS[0]} to {_PORTS[1]}.")
    try:
        family, kind, _, _, where = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0]
    except (socket.gaierror, UnicodeError):
        raise Refusal(f"{host!r} is no address of this machine; give one with --host, such as 127.0.0.1.") from None
    with socket.socket(family, kind) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(where)
        except OSError as error:
            if error.errno == errno.EADDRNOTAVAIL:
                raise Refusal(
                    f"{host} is no address of this machine; give one with --host, such as 127.0.0.1."
                ) from None
            if error.errno == errno.EACCES:
                raise Refusal(
                    f"Port {port} is kept for the system's administrator; choose one from 1024 with --port."
                ) from None
            raise Refusal(f"Port {port} is in use; stop what uses it or choose another with --port.") from None


def key_in(folder: Path) -> tuple[str, bool]:
    """The key that whoever comes from elsewhere must have, made when there is none; and whether it is new."""
    path = folder / "key"
    try:
        found = path.read_text().strip()
        if found:
            return found, False
    except FileNotFoundError:
        pass
    made = secrets.token_urlsafe(24)
    path.touch(mode=0o600)
    path.write_text(made)
    return made, True
