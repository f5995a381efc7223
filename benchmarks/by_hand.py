"""The Board's arithmetic once more in plain numpy, written straight down, to compare with."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

# R J/m2, r_f um, k N/mm3, mu, height mm, width mm: tomato, onion, carrot, squash, fish, cheese.
FOODS = np.array(
    [
        [500, 3, 0.002, 0.15, 60, 50],
        [250, 8, 0.006, 0.20, 60, 60],
        [400, 15, 0.05, 0.25, 30, 28],
        [600, 15, 0.06, 0.30, 90, 90],
        [300, 5, 0.0015, 0.20, 40, 60],
        [20, 10, 0.008, 0.50, 40, 60],
    ]
)
STROKES = (0.0, 1.0, 2.0)
HRC = np.array([20, 25, 30, 35, 40, 45, 50, 52, *range(54, 69)], dtype=float)
HV = np.array(
    [238, 266, 302, 345, 392, 446, 513, 544, 577, 595, 613, 633, 653, 674, 697, 720, 746, 772, 800,
     832, 865, 900, 940.0]
)  # fmt: skip


def forces(
    spine: Array, height: Array, shoulder: Array, angle: Array, share: Array, radius: Array
) -> Array:
    """Peak force for every food and stroke, (18, knives, draws)."""
    sine, tangent = np.sin(np.radians(angle)), np.tan(np.radians(angle))
    cosine = np.cos(np.radians(angle))
    lean = shoulder * (2 * share - 1) / 2
    out = np.empty((18, *spine.shape))
    for i, (toughness, blunting, stiffness, friction, tall, wide) in enumerate(FOODS):
        depth = np.minimum(tall, height)
        sines, cosines = 0.0, 0.0
        for part, top in ((share, spine / 2 + lean), (1 - share, spine / 2 - lean)):
            half = shoulder * part
            knee = half / tangent
            low = np.minimum(depth, knee)
            rest = depth - low
            slope = (top - half) / (height - knee)
            bevel = tangent * low**2 / 2
            face = rest * (half + slope * rest / 2)
            norm = np.sqrt(1 + slope**2)
            sines = sines + bevel * sine + face * slope / norm
            cosines = cosines + bevel * cosine + face / norm
        for j, xi in enumerate(STROKES):
            fracture = toughness * wide / 1000 * (1 + radius / blunting) / (1 + xi**2)
            drag = friction / np.sqrt(1 + xi**2)
            out[3 * i + j] = fracture + wide * stiffness * (sines + drag * cosines)
    return out


def board(means: Array, spreads: Array, seeds: list[int], draws: int) -> tuple[Array, ...]:
    """Central values, 90 % limits and variance shares of 26 figures for (knives, 14) inputs."""
    n, k = means.shape
    noise = np.empty((n, k, draws))
    for i, seed in enumerate(seeds):
        noise[i] = np.random.Generator(np.random.SFC64(seed)).standard_normal((k, draws))
    noise[:, 11], noise[:, 13] = np.random.Generator(np.random.SFC64(1)).standard_normal((2, draws))
    central = figures(means[:, :, None])[:, :, 0]
    y = figures(means[:, :, None] + spreads[:, :, None] * noise)
    low, high = np.percentile(y, (5, 95), axis=-1)
    zx = noise - noise.mean(axis=-1, keepdims=True)
    zy = y - y.mean(axis=-1, keepdims=True)
    cross = zy @ np.swapaxes(zx, 1, 2)
    shares = cross**2 / ((zy**2).sum(-1)[:, :, None] * (zx**2).sum(-1)[:, None, :])
    return central, low, high, shares


def figures(x: Array) -> Array:
    """Every figure for every draw, (knives, 26, draws) from (knives, 14, draws)."""
    shoulder, angle, spine, height = x[:, 0], x[:, 1], x[:, 2], x[:, 3]
    share, hrc, tip, edge = x[:, 4] / 100, x[:, 5], x[:, 6], x[:, 7]
    scale = np.exp(x[:, 11] + x[:, 10])
    force = forces(spine, height, shoulder, angle, share, x[:, 8]) * scale
    one = np.ones(1)
    reference = forces(2.2 * one, 45 * one, 0.3 * one, 15 * one, 0.5 * one, one)[::3, :, None]
    ease = 100 * np.exp(np.log(reference * np.exp(x[:, 11]) / force[::3]).mean(axis=0))
    linear = -157 + 15.8 * hrc - 35.6 * angle + x[:, 9]
    card = 60 * np.logaddexp(0, linear / 60) * np.exp(0.12 * x[:, 12])
    hv = np.interp(hrc, HRC, HV)
    kitchen = np.exp(x[:, 13])
    rod = 8 * (hv / 674) ** 8 * np.tan(np.radians(angle)) / np.tan(np.radians(15)) * kitchen
    stone = 3.45 * (card / 340) ** 0.6 * kitchen
    knee = shoulder / 2 / np.tan(np.radians(angle))
    between = np.degrees(2 * np.arctan((spine - shoulder) / 2 / (height - knee)))
    others = (ease, card, rod, stone, 9.80665 * hv / 3, (spine - tip) / (edge - 10) * 100,
              between, shoulder * (1 - 2 * share) / 2)  # fmt: skip
    return np.concatenate([np.moveaxis(force, 0, 1), np.stack(others, axis=1)], axis=1)
