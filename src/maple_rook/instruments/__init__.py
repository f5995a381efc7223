"""Instruments on a line: the protocol, the link to one, all links together, and stand-ins."""

from maple_rook.instruments.hub import Hub
from maple_rook.instruments.link import Wanted
from maple_rook.instruments.protocol import Garbled, Sent

__all__ = ["Garbled", "Hub", "Sent", "Wanted"]
