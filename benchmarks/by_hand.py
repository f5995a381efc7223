"""The Board's arithmetic once more in plain numpy, written straight down, to compare with."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

Array = NDArray[np.float64]

# R J/m2, r_f um, E MPa, s_c MPa, lam mm, k N/mm3, mu, tau kPa, height mm, width mm, s of a slice:
# tomato, onion, carrot, squash, fish, cheese.
FOODS = np.array(
    [
        [40, 1, 0.30, 0.25, 0.5, 0.002, 0.15, 0.2, 50, 60, 0.1],
        [180, 6, 0.8, 0.6, 0.8, 0.006, 0.20, 0.3, 35, 65, 0.15],
        [350, 12, 2.0, 1.2, 1.0, 0.06, 0.25, 0.5, 28, 28, 0.2],
        [500, 12, 1.6, 1.0, 1.2, 0.035, 0.30, 0.8, 45, 60, 0.3],
        [100, 3, 0.04, 0.05, 2.0, 0.0015, 0.20, 0.6, 35, 60, 0.05],
        [20, 10, 0.25, 0.15, 1.5, 0.006, 0.30, 4.0, 40, 60, 0.4],
    ]
)
PUSH, THIRDS = np.array([0.3, 0.5, 0.2]), np.full(3, 1 / 3)
STROKES = ((0.0, PUSH), (0.5, np.array([0.2, 0.4, 0.4])), (1.0, PUSH), (None, THIRDS))
CUTS = np.array([0.2, 0.5, 0.8])
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


def pressed(
    spine: Array,
    height: Array,
    shoulder: Array,
    angle: Array,
    share: Array,
    food: Array,
    depth: float,
    spreads: list[Array],
    sides: list[float],
) -> list[Array]:
    """Downward force of flat grinds at a depth but for parting, for every sqrt(1 + xi^2) and s."""
    _, _, modulus, crush, lam, stiffness, friction, adhesion, _, width, _ = food
    deep = np.minimum(depth, height)
    lean = shoulder * (2 * share - 1) / 2
    faces = []
    for part, top in ((share, spine / 2 + lean), (1 - share, spine / 2 - lean)):
        half = shoulder * part
        knee = half / np.tan(np.radians(angle))
        faces.append((knee, half, (top - half) / (height - knee), np.tan(np.radians(angle))))

    def area(z: Array) -> Array:
        total = np.zeros(())
        for knee, half, slope, tangent in faces:
            low, rest = np.minimum(z, knee), np.maximum(z - knee, 0)
            total = total + tangent * low**2 / 2 + rest * (half + slope * rest / 2)
        return total

    found = []
    stretches = []
    sine, cosine = np.zeros(()), np.zeros(())
    whole = area(deep)
    for knee, _, slope, tangent in faces:
        low = np.minimum(deep, knee)
        split = area(low)
        fade = np.exp(-low / lam)
        for t, a, e in (
            (tangent, split, lam * (1 - fade)),
            (slope, whole - split, lam * (fade - np.exp(-deep / lam))),
        ):
            cos = 1 / np.sqrt(1 + t * t)
            sine, cosine = sine + a * t * cos, cosine + a * cos
            stretches.append((t, cos, e))
    for spread, side in zip(spreads, sides, strict=True):
        drag, body = friction / spread, stiffness * side / (1 + side)
        edge = np.zeros(())
        for t, cos, e in stretches:
            p = np.clip(modulus * t / spread, 0, crush) * e * cos
            edge = edge + p * (t + drag)
        sticking = 2e-3 * width * adhesion * deep / spread
        found.append(width * (edge + body * (sine + drag * cosine)) + sticking)
    return found


def forces(
    spine: Array,
    height: Array,
    shoulder: Array,
    angle: Array,
    share: Array,
    radius: Array,
    edge: Array,
) -> tuple[Array, Array, Array, Array]:
    """Forces (foods, strokes, ...), bites and efforts of a push, and efforts of a worn edge.

    The last axis of spine and height are the three places of a cut.
    """
    shape = np.broadcast_shapes(spine.shape, radius.shape)[:-1]
    out = np.empty((len(FOODS), len(STROKES), *shape))
    bites, efforts, worn = (np.empty((len(FOODS), *shape)) for _ in range(3))
    for i, food in enumerate(FOODS):
        tall, wide = food[8], food[9]
        ratios = [
            np.clip((0.9 * edge - wide) / tall, 0, 6) if xi is None else np.zeros(()) + xi
            for xi, _ in STROKES
        ]
        spreads = [np.sqrt(1 + xi * xi) for xi in ratios]
        sides = [1.0, 1.0, 1.0, food[10]]
        passes = np.maximum(1.0, tall / height.max(-1))
        section = (spine, height, shoulder, angle, share, food)
        opened = pressed(*section, tall, spreads, sides)
        first = pressed(*section, 3.0, [np.ones(())], [1.0])[0]
        for into, r in ((efforts, radius), (worn, np.where(radius < 3, radius * 4, radius))):
            parted = food[0] * wide / 1000 * (1 + (r + 5 * np.tan(np.radians(angle))) / food[1])
            bite = ((first + parted) * PUSH).sum(-1)
            into[i] = np.sqrt(bite * ((opened[0] + parted) * PUSH).sum(-1)) * passes
            if into is efforts:
                bites[i] = bite
                for j, (_, weights) in enumerate(STROKES):
                    out[i, j] = ((opened[j] + parted / spreads[j] ** 2) * weights).sum(-1)
    return out, bites, efforts, worn


def spine_along(edge: Array, heel: Array, mid: Array, tip: Array, shares: Array = STATION) -> Array:
    """Monotone cubic through the three spine stations, at shares of the edge on the last axis."""
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
    x = shares * edge
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
    cut_share: Array,
    density: Array,
    even: Array,
    toughness: Array,
) -> tuple[Array, ...]:
    """Central values, 90 % limits and variance shares of 46 figures for (knives, 29) inputs."""
    n, k = means.shape
    strata = np.tile(ndtri((np.arange(draws) + 0.5) / draws), (k, 1))
    noise = np.empty((n, k, draws))
    for i, seed in enumerate(seeds):
        noise[i] = np.random.Generator(np.random.SFC64(seed)).permuted(strata, axis=1)
    common = np.random.Generator(np.random.SFC64(1)).permuted(strata[:4], axis=1)
    noise[:, 22], noise[:, 24], noise[:, 25], noise[:, 26] = common
    one_at_a_time = spreads[:, :, None] * np.eye(k)
    steps = (np.zeros((n, k, 1)), one_at_a_time, -one_at_a_time, spreads[:, :, None] * noise)
    x = means[:, :, None] + np.concatenate(steps, axis=-1)
    y = figures(x, height_share, cut_share, density, even, toughness)
    central, up, down = y[:, :, 0], y[:, :, 1 : 1 + k], y[:, :, 1 + k : 1 + 2 * k]
    low, high = np.percentile(y[:, :, 1 + 2 * k :], (5, 95), axis=-1)
    parts = ((up - down) / 2) ** 2 + ((up + down) / 2 - central[:, :, None]) ** 2 * 2
    shares = parts / parts.sum(axis=-1, keepdims=True)
    return central, low, high, shares


def card_cut(hrc: Array, angle: Array, carbides: Array, chance: Array) -> Array:
    """Total card cut over the draws, the first one central; its scatter with the model's doubt."""
    at_30 = 15.8 * hrc + carbides - 691
    whole, steep = 60 * np.logaddexp(0, at_30 / 60), np.maximum(angle / 15, 1)
    worn = 60 * np.logaddexp(0, (at_30 + 35.6 * (15 - np.minimum(angle, 15))) / 60)
    worn = worn * steep ** (-534 / (1 + np.exp(-at_30 / 60)) / whole)
    line = 60 * np.logaddexp(0, (at_30 + 35.6 * (15 - angle))[:, :1] / 60)
    scatter = np.hypot(0.12, np.minimum(np.log(worn[:, :1] / line), np.log(2)) / 1.6448536)
    return np.asarray(worn * np.exp(scatter * chance))


def lasting(hv: Array, hrc: Array, angle: Array, toughness: Array) -> Array:
    """Share of its wear life an edge has in normal work: it may roll or chip before."""
    strength = 9.80665 * hv / 3
    rolls = 0.02 * strength * np.tan(np.radians(angle)) ** 2 / 1.5
    tough = toughness[:, None] * np.exp(-0.07 * (hrc - 60))
    chips = tough / (1.12 * np.sqrt(np.pi * 1e-5) * strength)
    short = rolls * np.fmin(1, chips) / 0.7 / 1.5
    return np.asarray(np.maximum(0.2, (1 + short**-8) ** (-1 / 8)))


def figures(
    x: Array, height_share: Array, cut_share: Array, density: Array, even: Array, toughness: Array
) -> Array:
    """Every figure for every draw, (knives, 46, draws) from (knives, 29, draws)."""
    shoulder, angle, spine, height = x[:, 0], x[:, 1], x[:, 5], x[:, 8]
    share, hrc, mid, tip, edge = x[:, 4] / 100, x[:, 14], x[:, 6], x[:, 7], x[:, 15]
    food = np.exp(x[:, 22])
    wide = x[:, :, :, None]
    behind = wide[:, 0]
    cut_spine = np.maximum(
        spine_along(wide[:, 15], wide[:, 5], wide[:, 6], wide[:, 7], CUTS), 1.05 * behind
    )
    tall = cut_share[:, None, :] * (height * np.exp(x[:, 9]))[:, :, None]
    tall = np.maximum(tall, 1.26 * behind / np.tan(np.radians(wide[:, 1])) + 1)
    force, bite, effort, worn_effort = forces(
        cut_spine, tall, behind, wide[:, 1], wide[:, 4] / 100, wide[:, 16], wide[:, 15]
    )
    of = REFERENCE[:, :, None, None]
    ease, sharp, half_worn = (
        100 * np.exp(np.log(by / got).mean(axis=0))
        for by, got in ((of[0], effort), (of[1], bite), (of[0], worn_effort))
    )
    carrot, middle = FOODS[2], (cut_spine[..., 1], tall[..., 1], shoulder, angle, share)
    across = np.zeros(())
    lean = shoulder * (2 * share - 1) / 2
    for sign, part, top in (
        (1, share, cut_spine[..., 1] / 2 + lean),
        (-1, 1 - share, cut_spine[..., 1] / 2 - lean),
    ):
        half = shoulder * part
        steep = np.tan(np.radians(angle))
        knee = half / steep
        slope = (top - half) / (tall[..., 1] - knee)
        fade = np.exp(-np.minimum(28, knee) / carrot[4])
        ends = ((steep, 1 - fade), (slope, fade - np.exp(-28 / carrot[4])))
        for t, e in ends:
            p = np.clip(carrot[2] * t, 0, carrot[3]) * carrot[4] * e / np.sqrt(1 + t * t)
            across = across + sign * p * (1 - carrot[6] * t)
    side = carrot[9] * across
    grown = 1 + (x[:, 16] + 5 * np.tan(np.radians(angle))) / carrot[1]
    points, parts = np.polynomial.legendre.leggauss(5)
    work = sum(
        w / 2 * pressed(*middle, carrot, 28 * (1 + p) / 2, [np.ones(())], [1.0])[0]
        for p, w in zip(points, parts, strict=True)
    )
    work = (work + carrot[0] * carrot[9] / 1000 * grown) * 28 / 1000 * food
    force = force.reshape(24, *force.shape[2:]) * food
    half = 0.25 / np.sqrt(2)
    worn = card_cut(hrc, angle, x[:, 17], x[:, 23]) * np.exp(half * x[:, 27])
    card = worn * np.exp(half * x[:, 26])
    first = np.minimum(675 / angle, 0.9 * card) * np.exp(0.25 * x[:, 28])
    hv = np.interp(hrc, HRC, HV)
    kitchen = np.exp(np.log(1.6) / 1.6448536 * x[:, 24]) * np.where(even, 1.2, 1.0)[:, None]
    rod = 6.6 * (hv / 674) ** 6 * np.tan(np.radians(angle)) / np.tan(np.radians(15)) * kitchen
    stone = 3.45 * (worn / 340) ** 0.6 * kitchen * lasting(hv, hrc, angle, toughness)
    stone = np.maximum(stone, rod / 30.4)
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
        half_worn,
        sharp,
        work,
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


def _reference() -> Array:
    """Effort and bite of the reference blade by food; its heights are those of a gyuto."""
    spine = spine_along(*(np.full((1, 1), v) for v in (210.0, 2.2, 1.9, 0.8)), CUTS)
    height = REFERENCE_HEIGHTS[None, :]
    one = np.ones((1, 1))
    _, bite, effort, _ = forces(
        spine, height, 0.3 * one, 15 * one, 0.5 * one, 0.75 * one, 210 * one
    )
    return np.stack([effort[:, 0], bite[:, 0]])


REFERENCE_HEIGHTS = np.array([45.0, 41.02450200716868, 22.53193923662611])
REFERENCE = _reference()
