"""Which home network this computer is in."""

import ipaddress
import re
import socket
from contextlib import suppress
from pathlib import Path

from pathway.errors import PathwayError

FAR = "192.0.2.1"  # an address that nobody has: nothing is sent, but it tells which way out there is
_ROUTES, _NEIGHBOURS = Path("/proc/net/route"), Path("/proc/net/arp")  # where a system tells of them
_PREFIX = 24  # bits that the addresses of a house have in common


def home_address() -> str:
    """Return this computer's address in the home network.

    Raises:
        PathwayError: it has none, or one that the whole world could reach.
    """
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as sock:
        try:
            sock.connect((FAR, 9))
            found = str(sock.getsockname()[0])
        except OSError as error:
            raise PathwayError("This computer is in no network", advice="Connect it to the home network.") from error
    address = ipaddress.ip_address(found)
    if not address.is_private or address.is_loopback:
        raise PathwayError(
            f"{found} is no address of a home network",
            advice="Sharing is for devices in the same house only.",
        )
    return found


def network_of(address: str) -> str:
    """Return what a network is known by: the beginning of its addresses, and its router where the system tells of it.

    Two houses may have the same addresses; hardly ever the same router.
    """
    network = ipaddress.ip_network(f"{address}/{_PREFIX if '.' in address else 64}", strict=False)
    return f"{network} {_router()}".strip()


def _router() -> str:
    with suppress(OSError, ValueError, IndexError):
        rows = [line.split() for line in _ROUTES.read_text().splitlines()[1:]]
        way = next((row[2] for row in rows if row[1] == "00000000"), "")
        gateway = ".".join(str(byte) for byte in reversed(bytes.fromhex(way)))
        found = re.search(
            rf"^{re.escape(gateway)}\s.*?(([0-9a-f]{{2}}:){{5}}[0-9a-f]{{2}})", _NEIGHBOURS.read_text(), re.M
        )
        return found[1] if found else ""
    return ""
