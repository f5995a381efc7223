"""Links to simulated instruments: readings, and every way an instrument fails, by name."""

from __future__ import annotations

import asyncio
import random
import statistics
from collections.abc import AsyncIterator, Callable, Coroutine
from concurrent.futures import ThreadPoolExecutor
from contextlib import asynccontextmanager
from typing import Any

import pytest

from maple_rook.instruments import Hub, Wanted, stand_ins
from maple_rook.instruments import link as links
from maple_rook.instruments.link import Event, NoReading, State
from maple_rook.instruments.protocol import Sent, parse
from maple_rook.instruments.stand_ins import NotUnderstood, StandIn


def caliper(**changes: object) -> StandIn:
    made = StandIn("caliper", 0.01, noise=0.0, chance=random.Random(7))
    made.specimen["spine_heel"] = 2.13
    for name, value in changes.items():
        setattr(made, name, value)
    return made


@asynccontextmanager
async def on_line(
    stand_in: StandIn,
) -> AsyncIterator[tuple[Hub, asyncio.Server, list[Event | int]]]:
    """A hub listening to one stand-in, and what every Bench hears."""
    server = await asyncio.start_server(stand_in.serve, "127.0.0.1", 0)
    port = server.sockets[0].getsockname()[1]
    hub = Hub()
    hub.start()
    heard: list[Event | int] = []

    async def listen() -> None:
        async for event in hub.events():
            heard.append(event)

    listening = asyncio.create_task(listen())
    hub.want([Wanted(14, "the caliper", stand_in.kind, f"127.0.0.1:{port}")])
    await until(lambda: any(e.state is State.READY for e in hub.states()))
    try:
        yield hub, server, heard
    finally:
        listening.cancel()
        await hub.stop()
        server.close()


async def until(true: Callable[[], bool]) -> None:
    async with asyncio.timeout(15):
        while not true():
            await asyncio.sleep(0.01)


def run(work: Callable[[], Coroutine[Any, Any, None]]) -> None:
    """On a thread of its own: the browser tests leave a loop running on the main one."""
    with ThreadPoolExecutor(1) as pool:
        pool.submit(lambda: asyncio.run(asyncio.wait_for(work(), 30))).result()


def test_a_reading_is_taken_on_request() -> None:
    async def work() -> None:
        async with on_line(caliper()) as (hub, _, _):
            reading, event = await hub.take(14, "spine_heel", 2.0)
            assert (reading.typed, event.name) == ("2.13 mm", "the caliper")
            again, other = await hub.take(14, "spine_heel", 2.0)
            assert again.number == reading.number + 1
            assert other.client_id != event.client_id

    run(work)


def test_a_reading_sent_by_the_instruments_own_button_reaches_every_bench() -> None:
    async def work() -> None:
        async with on_line(caliper()) as (hub, server, heard):
            port = server.sockets[0].getsockname()[1]
            _, writer = await asyncio.open_connection("127.0.0.1", port)
            writer.write(b"PRESS spine_heel\n")
            await until(lambda: any(isinstance(e, Event) and e.reading for e in heard))
            hub.changed(24)
            await until(lambda: 24 in heard)
            writer.close()

    run(work)


@pytest.mark.parametrize(
    ("mode", "state", "says"),
    [
        ("dropout", State.SILENT, "the caliper: no reading within"),
        ("slow", State.SILENT, "the caliper: no reading within"),
        ("garbled", State.GARBLED, "the caliper: sent a line that does not follow the protocol"),
        ("long-line", State.GARBLED, "the caliper: sent a line over 512 bytes"),
        ("moving", State.READY, "still moving"),
    ],
)
def test_an_instrument_that_fails_is_named_and_does_not_block(
    monkeypatch: pytest.MonkeyPatch, mode: str, state: State, says: str
) -> None:
    monkeypatch.setattr(links, "ANSWER_S", 0.3)
    monkeypatch.setattr(stand_ins, "SLOW_S", 0.6)
    monkeypatch.setattr(links, "AGAIN_S", 0.05)

    async def work() -> None:
        stand_in = caliper(mode=mode)
        async with on_line(stand_in) as (hub, _, heard):
            with pytest.raises(NoReading, match=says):
                await hub.take(14, "spine_heel", 2.0)
            await until(lambda: any(isinstance(e, Event) and e.state is state for e in heard))
            stand_in.mode = "steady"
            await until(lambda: hub.states()[0].state in (State.READY, State.SILENT, State.GARBLED))
            await asyncio.sleep(0.2)
            stand_in.specimen["spine_heel"] = 2.50
            reading, _ = await hub.take(14, "spine_heel", 2.0)
            assert reading.typed == "2.50 mm"  # not an answer to the one before
            assert hub.states()[0].state is State.READY

    run(work)


def test_a_dead_instrument_is_named_and_found_again(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(links, "AGAIN_S", 0.05)

    async def work() -> None:
        stand_in = caliper()
        async with on_line(stand_in) as (hub, server, _):
            port = server.sockets[0].getsockname()[1]
            server.close()
            for writer in list(stand_in._writers):
                writer.close()
            await until(lambda: hub.states()[0].state is State.GONE)
            with pytest.raises(NoReading, match="the caliper"):
                await hub.take(14, "spine_heel", 2.0)
            back = await asyncio.start_server(stand_in.serve, "127.0.0.1", port)
            await until(lambda: hub.states()[0].state is State.READY)
            back.close()

    run(work)


def test_an_unknown_instrument_says_to_type() -> None:
    async def work() -> None:
        with pytest.raises(NoReading, match="type the reading"):
            await Hub().take(99, "spine_heel", None)

    run(work)


def read(stand_in: StandIn, quantity: str = "spine_heel", about: float | None = None) -> Sent:
    sent = parse(stand_in.read(quantity, about))
    assert isinstance(sent, Sent)
    return sent


def test_a_stand_in_has_zero_error_resolution_noise_and_drift() -> None:
    assert read(caliper(zero=0.024)).value == pytest.approx(2.15)
    assert read(caliper(resolution=0.1)).value == pytest.approx(2.1)
    noisy = caliper(noise=0.05)
    values = [read(noisy).value for _ in range(400)]
    assert statistics.stdev(values) == pytest.approx(0.05, rel=0.15)
    now = [0.0]
    drifting = caliper(drift_per_min=0.10, clock=lambda: now[0])
    assert read(drifting).value == pytest.approx(2.13)
    now[0] = 120.0
    assert read(drifting).value == pytest.approx(2.33)


def test_a_stand_in_without_a_specimen_measures_one_near_what_is_expected() -> None:
    loose = caliper(specimen={})
    first, second = read(loose, "height_heel", 46.0), read(loose, "height_heel", 46.0)
    assert first.value == second.value
    assert first.value == pytest.approx(46.0, rel=0.15)


def test_a_stand_in_can_be_set_to_inches_or_to_nonsense() -> None:
    assert read(caliper(mode="other-unit")).typed == "0.084 in"
    assert read(caliper(mode="wrong-unit")).unit == "g"


@pytest.mark.parametrize("line", ["SET mode tired", "SET zero much", "SPECIMEN", "DANCE"])
def test_a_stand_in_refuses_what_it_cannot_follow(line: str) -> None:
    with pytest.raises(NotUnderstood):
        caliper().control(line)


def test_a_scale_measures_no_lengths() -> None:
    with pytest.raises(NotUnderstood, match="does not measure"):
        StandIn("scale", 0.1, noise=0.1).read("spine_heel")
