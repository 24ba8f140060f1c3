"""Work that nobody waits for stands back while frames are asked for, but not for ever."""

import threading
import time

from zygomorph.api.debounce import Debounce


def test_where_nobody_asks_nobody_waits():
    started = time.monotonic()
    Debounce(quiet=60, patience=60).wait()
    assert time.monotonic() - started < 30


def test_it_waits_until_nobody_has_asked_for_a_while():
    debounce = Debounce(quiet=0.2, patience=60)
    debounce.asked()
    asked = time.monotonic()
    debounce.wait()
    assert time.monotonic() - asked >= 0.19


def test_patience_ends_where_somebody_asks_all_the_time():
    debounce = Debounce(quiet=30, patience=0.2)
    debounce.asked()
    started = time.monotonic()
    debounce.wait()
    assert 0.19 <= time.monotonic() - started < 15


def test_closing_lets_everybody_through():
    debounce = Debounce(quiet=60, patience=60)
    debounce.asked()
    waiting = threading.Thread(target=debounce.wait)
    waiting.start()
    debounce.close()
    waiting.join(timeout=30)
    assert not waiting.is_alive()
