"""Reading the code of a shelf label from a photo: QR (ISO/IEC 18004) or a bar code."""

from __future__ import annotations

import cv2
import numpy as np

from maple_rook.core.errors import InvalidValue
from maple_rook.photo.picture import picture

LONGEST_PX = 2000
"""A larger photo is brought down to this: codes are read by their modules, not by fine detail."""


def read_label(content: bytes) -> str:
    """What the one code in a photo says, or :class:`InvalidValue` where none can be read."""
    grey = picture(content).grey
    scale = LONGEST_PX / max(grey.shape)
    if scale < 1:
        small = cv2.resize(grey, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
        grey = small.astype(np.uint8)
    text, *_ = cv2.QRCodeDetector().detectAndDecode(grey)
    if not text:
        text, *_ = cv2.barcode.BarcodeDetector().detectAndDecode(grey)
    if not text:
        raise InvalidValue("label", "no code", "a QR or bar code, sharp and as large as it will go")
    return text
