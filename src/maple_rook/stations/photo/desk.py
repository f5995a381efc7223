"""Measuring one photo at a time, and remembering the last few outlines while points are moved."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
import structlog

from maple_rook.background.apart import Apart
from maple_rook.core.geometry.scale_card import Field, View
from maple_rook.photo.camera import flat_scale
from maple_rook.photo.heel_view import HeelView, trace_heel
from maple_rook.photo.label import read_label
from maple_rook.photo.picture import Original, Picture, original, picture
from maple_rook.photo.refusal import PhotoRefused, Trouble
from maple_rook.photo.side_view import Lying, SideView
from maple_rook.photo.taking import OnCard, find_card, trace_side, traced
from maple_rook.stations.photo.schemas import FoundCardOut, KnownIn, MeasureIn

_REMEMBERED = 6
WITHIN_S = 60.0
_NO_SHAPE = (ArithmeticError, IndexError, ValueError, np.linalg.LinAlgError, cv2.error)
log = structlog.get_logger()
CLICK_U_PX, UNSEEN_TILT_DEG = 2.0, 4.0
"""Placing a point by hand, and how far from straight a photo without a card is held."""
_BORDER_SHARE = 0.01


@dataclass(frozen=True)
class Traced:
    """An outline found in a photo, and the card it was measured by."""

    view: SideView | HeelView
    card: FoundCardOut | None


class PhotoDesk:
    """One photo is worked on at a time, apart, so that a few large ones cannot fill memory."""

    def __init__(self, apart: Apart) -> None:
        self._apart = apart
        self._lock = threading.Lock()
        self._known: OrderedDict[object, Traced | PhotoRefused] = OrderedDict()

    def traced(
        self, photo_id: int, view: View, how: MeasureIn, lying: Lying, content: Callable[[], bytes]
    ) -> Traced:
        """The outline of a photo, from memory where nothing that shapes it has changed.

        Parameters
        ----------
        photo_id : number of the photo.
        view : from the side or from the heel.
        how : what the person said of the photo.
        lying : how the knife lies over the card.
        content : the file's bytes.
        """
        key = (photo_id, how.ruler_mm, how.known and how.known.model_dump_json(), lying)
        with self._lock:
            found = self._known.get(key)
        if found is None:
            self._apart.check_room()
            found, strange = self._apart.run(WITHIN_S, _found, content(), view, how, lying)
            if strange:
                log.warning("photo not understood", photo=photo_id, error=strange)
        with self._lock:
            self._known[key] = found
            while len(self._known) > _REMEMBERED:
                self._known.popitem(last=False)
            self._known.move_to_end(key)
        if isinstance(found, PhotoRefused):
            raise found
        return found

    def original(self, content: bytes) -> Original:
        """A photo as it will be kept."""
        return self._apart.run(WITHIN_S, original, content)

    def label(self, content: bytes) -> str:
        """What the code on a label says."""
        return self._apart.run(WITHIN_S, read_label, content)

    def check_room(self) -> None:
        """Refuse before a photo is read where many wait."""
        self._apart.check_room()

    def close(self) -> None:
        self._apart.close()


def _found(
    content: bytes, view: View, how: MeasureIn, lying: Lying
) -> tuple[Traced | PhotoRefused, str]:
    """What is found in a photo, or why nothing is, or an unexpected error."""
    try:
        return _trace(picture(content), view, how, lying), ""
    except PhotoRefused as refused:
        return refused, ""
    except _NO_SHAPE as error:  # an outline that is no blade's
        return PhotoRefused(Trouble.NO_BLADE), repr(error)


def _trace(photo: Picture, view: View, how: MeasureIn, lying: Lying) -> Traced:
    if how.known is not None and view is View.SIDE:
        return Traced(_by_two_points(photo, how.known, lying), None)
    on_card = find_card(photo, view)
    found = FoundCardOut(
        label=on_card.card.label,
        ruler_mm=on_card.card.ruler_mm,
        markers=len(on_card.card.markers),
        markers_seen=on_card.markers_seen,
        tilt_deg=round(on_card.tilt_deg, 1),
        px_per_mm=round(on_card.px_per_mm, 2),
        residual_px=round(on_card.camera.residual_px, 2),
    )
    return Traced(_outline(on_card, view, how, lying), found)


def _outline(on_card: OnCard, view: View, how: MeasureIn, lying: Lying) -> SideView | HeelView:
    if view is View.HEEL:
        return trace_heel(on_card, how.ruler_mm)
    return trace_side(on_card, lying, how.ruler_mm)


def _by_two_points(photo: Picture, known: KnownIn, lying: Lying) -> SideView:
    first, second = ((x, y) for x, y in (known.first, known.second))
    camera = flat_scale(
        first,
        second,
        known.apart_mm,
        photo.size,
        apart_u_mm=known.apart_u_mm,
        click_u_px=CLICK_U_PX,
        tilt_u_deg=UNSEEN_TILT_DEG,
    )
    width, height = photo.size
    edge = _BORDER_SHARE * max(photo.size)
    (left, top), (right, bottom) = camera.to_mm(
        [(edge, edge), (width - edge, height - edge)]
    ).tolist()
    return traced(photo, camera, Field(left, top, right, bottom), lying)
