"""Work that nobody waits for stands back while frames are asked for, but not for ever."""

import threading
import time

from zygomorph.api.calm import Calm


def test_where_nobody_asks_nobody_waits():
    started = time.monotonic()
    Calm(quiet=60, patience=60).wait()
    assert time.monotonic() - started < 30


def test_it_waits_until_nobody_has_asked_for_a_while():
    calm = Calm(quiet=0.2, patience=60)
    calm.asked()
    asked = time.monotonic()
    calm.wait()
    assert time.monotonic() - asked >= 0.19


def test_patience_ends_where_somebody_asks_all_the_time():
    calm = Calm(quiet=30, patience=0.2)
    calm.asked()
    started = time.monotonic()
    calm.wait()
    assert 0.19 <= time.monotonic() - started < 15


def test_closing_lets_everybody_through():
    calm = Calm(quiet=60, patience=60)
    calm.asked()
    waiting = threading.Thread(target=calm.wait)
    waiting.start()
    calm.close()
    waiting.join(timeout=30)
    assert not waiting.is_alive()
