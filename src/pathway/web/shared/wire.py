"""Sockets that the app listens on."""

import socket


def wire(address: str) -> socket.socket:
    """Return a socket of an address of this computer, not yet bound.

    It says that it speaks TCP: only then does asyncio send what is written at once. Otherwise the end of every larger
    answer waits until the other side has confirmed its beginning, some 40 ms.
    """
    family = socket.AF_INET6 if ":" in address else socket.AF_INET
    return socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
