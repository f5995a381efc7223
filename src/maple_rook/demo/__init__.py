"""Saltmarsh Lane Cutlers of Port Averil: an invented shop with invented knives."""

from maple_rook.demo.changes import change_a_little
from maple_rook.demo.shop import load

__all__ = ["change_a_little", "load"]
