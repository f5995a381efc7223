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
    [
        238,
        266,
        302,
        345,
        392,
        446,
        513,
        544,
        577,
        595,
        613,
        633,
        653,
        674,
        697,
        720,
        746,
        772,
        800,
        832,
        865,
        900,
        940.0,
    ]
)


NODES, WEIGHTS = np.polynomial.legendre.leggauss(10)
STATION, STATION_WEIGHT = (1 + NODES) / 2, WEIGHTS / 2


def forces(
    spine: Array, height: Array, shoulder: Array, angle: Array, share: Array, radius: Array
) -> tuple[Array, Array]:
    """Peak force of a flat grind for every food and stroke, (18, ...), and the side force."""
    sine, tangent = np.sin(np.radians(angle)), np.tan(np.radians(angle))
    cosine = np.cos(np.radians(angle))
    lean = shoulder * (2 * share - 1) / 2
    shape = np.broadcast_shapes(spine.shape, share.shape, radius.shape)
    out, side = np.empty((18, *shape)), np.zeros(())
    for i, (toughness, blunting, stiffness, friction, tall, wide) in enumerate(FOODS):
        depth = np.minimum(tall, height)
        sines, cosines, across = 0.0, 0.0, 0.0
        for sign, part, top in ((1, share, spine / 2 + lean), (-1, 1 - share, spine / 2 - lean)):
            half = shoulder * part
            knee = half / tangent
            low = np.minimum(depth, knee)
            rest = depth - low
            slope = (top - half) / (height - knee)
            bevel = tangent * low**2 / 2
            face = rest * (half + slope * rest / 2)
            norm = np.sqrt(1 + slope**2)
            of_sine = bevel * sine + face * slope / norm
            of_cosine = bevel * cosine + face / norm
            sines = sines + of_sine
            cosines = cosines + of_cosine
            across = across + sign * (of_cosine - friction * of_sine)
        if i == 2:
            side = wide * stiffness * across
        for j, xi in enumerate(STROKES):
            fracture = toughness * wide / 1000 * (1 + radius / blunting) / (1 + xi**2)
            drag = friction / np.sqrt(1 + xi**2)
            out[3 * i + j] = fracture + wide * stiffness * (sines + drag * cosines)
    return out, np.asarray(side)


def hollow_forces(
    spine: Array,
    height: Array,
    shoulder: Array,
    angle: Array,
    share: Array,
    bulge: float,
    radius: float,
) -> Array:
    """Peak force of a fully hollow grind for every food and stroke, (18, n).

    Each face is a circle on the chord from shoulder to spine, integrated with five Gauss points.
    """
    tangent = np.tan(np.radians(angle))
    lean = shoulder * (2 * share - 1) / 2
    points, weights = np.polynomial.legendre.leggauss(5)
    known: dict[float, tuple[Array, Array]] = {}
    for tall in {row[4] for row in FOODS}:
        depth = np.minimum(tall, height)
        sines, cosines = np.zeros(()), np.zeros(())
        for part, top in ((share, spine / 2 + lean), (1 - share, spine / 2 - lean)):
            half = shoulder * part
            knee = half / tangent
            rise = height - knee
            slope = (top - half) / rise
            deepest = 0.9 * (np.sqrt(half) + np.sqrt(top)) ** 2 / 4
            sagitta = np.maximum(bulge * (half + top) / 2, -deepest)
            bend = 2 * sagitta / (rise**2 / 4 + sagitta**2)
            end = np.sqrt(1 - (bend * rise / 2) ** 2)
            low = np.minimum(depth, knee)
            bevel = tangent * low**2 / 2 / np.sqrt(1 + tangent**2)
            sines, cosines = sines + tangent * bevel, cosines + bevel
            rest = np.clip(depth - knee, 0, rise)
            for point, weight in zip(points, weights, strict=True):
                u = rest * (1 + point) / 2
                lever = bend * (u - rise / 2)
                root = np.sqrt(1 - lever * lever)
                steep = slope - lever / root
                x = np.maximum(half + slope * u + bend * u * (rise - u) / (root + end), 0)
                step = weight * rest / 2 * x / np.sqrt(1 + steep * steep)
                sines, cosines = sines + steep * step, cosines + step
        known[tall] = sines, cosines
    out = np.empty((18, *spine.shape))
    for i, (toughness, blunting, stiffness, friction, tall, wide) in enumerate(FOODS):
        sines, cosines = known[tall]
        for j, xi in enumerate(STROKES):
            fracture = toughness * wide / 1000 * (1 + radius / blunting) / (1 + xi**2)
            drag = friction / np.sqrt(1 + xi**2)
            out[3 * i + j] = fracture + wide * stiffness * (sines + drag * cosines)
    return out


def spine_along(edge: Array, heel: Array, mid: Array, tip: Array) -> Array:
    """Monotone cubic through the three spine stations, on the last axis the ten stations."""
    rear, front = edge / 2, edge / 2 - 10
    s1, s2 = (mid - heel) / rear, (tip - mid) / front
    same = s1 * s2 > 0
    mixed = np.where(same, (2 * front + rear) * s2 + (front + 2 * rear) * s1, 1.0)
    d1 = np.where(same, 3 * (rear + front) * s1 * s2 / mixed, 0.0)
    ends = []
    for near, far, a, b in ((rear, front, s1, s2), (front, rear, s2, s1)):
        d = ((2 * near + far) * a - near * b) / (near + far)
        d = np.where(d * a <= 0, 0.0, d)
        ends.append(np.where((a * b <= 0) & (np.abs(d) > 3 * np.abs(a)), 3 * a, d))
    x = STATION * edge
    in_rear = x <= rear
    u = np.where(in_rear, x / rear, (x - rear) / front)
    a, b = np.where(in_rear, heel, mid), np.where(in_rear, mid, tip)
    width = np.where(in_rear, rear, front)
    da, db = np.where(in_rear, ends[0], d1) * width, np.where(in_rear, d1, ends[1]) * width
    rest = 1 - u
    cubic = (a * (1 + 2 * u) + da * u) * rest**2 + (b * (3 - 2 * u) - db * rest) * u**2
    return np.asarray(np.where(u <= 1, cubic, b + db * (u - 1)))


def solids(x: Array, height_share: Array, density: Array) -> tuple[Array, ...]:
    """Mass, handle side, static moment, swing, flex and side area of flat grinds, (n, draws)."""
    wide = x[:, :, :, None]
    shoulder, angle, share = wide[:, 0], wide[:, 1], wide[:, 4] / 100
    spine = np.maximum(
        spine_along(wide[:, 15], wide[:, 5], wide[:, 6], wide[:, 7]), 1.05 * shoulder
    )
    tangent = np.tan(np.radians(angle))
    height = height_share[:, None, :] * (x[:, 8] * np.exp(x[:, 9]))[:, :, None]
    height = np.maximum(height, 1.26 * shoulder / tangent + 1)
    lean = shoulder * (2 * share - 1) / 2
    first, second, third = 0.0, 0.0, 0.0
    for sign, part, top in ((1, share, spine / 2 + lean), (-1, 1 - share, spine / 2 - lean)):
        half = shoulder * part
        knee = half / tangent
        for a, b, length in ((0.0, half, knee), (half, top, height - knee)):
            first = first + length * (a + b) / 2
            second = second + sign * length * (a * a + a * b + b * b) / 3
            third = third + length * (a + b) * (a * a + b * b) / 4
    area = first
    weak = third / 3 - (second / 2) ** 2 / area
    edge = x[:, 15]
    piece = area * STATION_WEIGHT * edge[:, :, None] / 1000 * density[:, None, None]
    along = STATION * edge[:, :, None]
    mass = piece.sum(-1)
    centre = (piece * along).sum(-1) / mass
    spread = (piece * ((along - centre[:, :, None]) ** 2 + height**2 / 12)).sum(-1) / mass
    weight, balance, handle = x[:, 18], x[:, 19], x[:, 20]
    mass = np.fmin(mass, np.maximum(weight - 10, weight / 2))
    rest = weight - mass
    carried = np.maximum(rest, 5)
    middle = np.clip((weight * balance - mass * centre) / carried, -handle, 0)
    swing = mass * (spread + (centre - 15) ** 2)
    swing = swing + carried * (handle**2 / 12 + (middle - 15) ** 2)
    flex = 10 * edge**3 / 205_000 * (STATION_WEIGHT * (1 - STATION) ** 2 / weak).sum(-1)
    moment = weight / 1000 * 9.80665 * (balance - 15)
    side = (height * STATION_WEIGHT).sum(-1) * edge / 100
    return mass, rest, moment, swing / 1e5, flex, side


def board(
    means: Array,
    spreads: Array,
    seeds: list[int],
    draws: int,
    height_share: Array,
    density: Array,
    even: Array,
) -> tuple[Array, ...]:
    """Central values, 90 % limits and variance shares of 37 figures for (knives, 29) inputs."""
    n, k = means.shape
    noise = np.empty((n, k, draws))
    for i, seed in enumerate(seeds):
        noise[i] = np.random.Generator(np.random.SFC64(seed)).standard_normal((k, draws))
    common = np.random.Generator(np.random.SFC64(1)).standard_normal((4, draws))
    noise[:, 22], noise[:, 24], noise[:, 25], noise[:, 26] = common
    central = figures(means[:, :, None], height_share, density, even)[:, :, 0]
    y = figures(means[:, :, None] + spreads[:, :, None] * noise, height_share, density, even)
    low, high = np.percentile(y, (5, 95), axis=-1)
    zx = noise - noise.mean(axis=-1, keepdims=True)
    zy = y - y.mean(axis=-1, keepdims=True)
    cross = zy @ np.swapaxes(zx, 1, 2)
    shares = cross**2 / ((zy**2).sum(-1)[:, :, None] * (zx**2).sum(-1)[:, None, :])
    return central, low, high, shares


def figures(x: Array, height_share: Array, density: Array, even: Array) -> Array:
    """Every figure for every draw, (knives, 37, draws) from (knives, 29, draws)."""
    shoulder, angle, spine, height = x[:, 0], x[:, 1], x[:, 5], x[:, 8]
    share, hrc, mid, tip, edge = x[:, 4] / 100, x[:, 14], x[:, 6], x[:, 7], x[:, 15]
    food = np.exp(x[:, 22])
    force, side = forces(spine, height, shoulder, angle, share, x[:, 16])
    one = np.ones(1)
    reference = forces(2.2 * one, 45 * one, 0.3 * one, 15 * one, 0.5 * one, one)[0][::3, :, None]
    ease = 100 * np.exp(np.log(reference / force[::3]).mean(axis=0))
    force = force * food
    linear = -157 + 15.8 * hrc - 35.6 * angle + x[:, 17]
    half = 0.25 / np.sqrt(2)
    worn = 60 * np.logaddexp(0, linear / 60) * np.exp(0.12 * x[:, 23] + half * x[:, 27])
    card = worn * np.exp(half * x[:, 26])
    first = np.minimum(675 / angle, 0.9 * card) * np.exp(0.25 * x[:, 28])
    hv = np.interp(hrc, HRC, HV)
    kitchen = np.exp(np.log(1.6) / 1.6448536 * x[:, 24]) * np.where(even, 1.2, 1.0)[:, None]
    rod = 8 * (hv / 674) ** 8 * np.tan(np.radians(angle)) / np.tan(np.radians(15)) * kitchen
    stone = 3.45 * (worn / 340) ** 0.6 * kitchen
    tangent = np.tan(np.radians(angle))
    between = np.zeros(())
    lean = shoulder * (2 * share - 1) / 2
    for part, top in ((share, spine / 2 + lean), (1 - share, spine / 2 - lean)):
        half = shoulder * part
        between = between + np.degrees(np.arctan((top - half) / (height - half / tangent)))
    steep, finish = np.clip(between / 6, 0, 1), np.clip(x[:, 21], 0, 1)
    release = 15 * steep + 35 * finish + 20 * np.clip((85 - height) / 60, 0, 1) + x[:, 25]
    mass, rest, moment, swing, flex, side_area = solids(x, height_share, density)
    others = (
        ease,
        side * food,
        np.clip(release, 0, 100),
        card,
        first,
        rod,
        stone,
        9.80665 * hv / 3,
        (spine - tip) / (edge - 10) * 100,
        (spine - mid) / edge * 200,
        (mid - tip) / (edge / 2 - 10) * 100,
        between,
        shoulder * (1 - 2 * share) / 2,
        mass,
        rest,
        moment,
        swing,
        flex,
        side_area,
    )
    return np.concatenate([np.moveaxis(force, 0, 1), np.stack(others, axis=1)], axis=1)
