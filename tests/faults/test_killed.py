"""The application and PostgreSQL killed while fifty benches write: nothing confirmed is lost."""

from __future__ import annotations

import random
import time

from shop_under_fire import Benches, ServedShop

BENCHES, KILLS = 50, 20


def test_what_was_confirmed_is_there_once_and_nothing_else_is(shop: ServedShop) -> None:
    benches = Benches(shop, BENCHES)
    chance = random.Random(1)
    confirmed_between = []
    for number in range(KILLS):
        before = len(benches.all_confirmed())
        time.sleep(chance.uniform(0.3, 1.2))
        if number % 2:
            shop.kill_postgresql()
        else:
            shop.kill()
            shop.start()
        confirmed_between.append(len(benches.all_confirmed()) - before)
    time.sleep(1)
    benches.stop()
    benches.check()
    assert len(benches.all_confirmed()) > 10 * BENCHES
    assert sum(n > 0 for n in confirmed_between) >= KILLS // 2  # they did write meanwhile
