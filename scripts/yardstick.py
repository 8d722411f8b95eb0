"""How fast this machine is just now: what is timed is told as a ratio to it.

A yard is a fixed piece of work that has nothing to do with the program, writing and reading
JSON and counting its letters in Python. It is measured beside each run, so that a slower
machine, or one with neighbours, has longer yards and the same ratios.
"""

import statistics
import subprocess
import sys
import time

WORK = """
import collections, json
words = "harbour ferry island пором гавань 渡船 港 島 नाव बंदरगाह ".split()
made = {str(i): " ".join(words[(i * k) % len(words)] for k in range(7)) for i in range(20000)}
for _ in range(4):
    text = json.dumps(made, ensure_ascii=False)
    made = json.loads(text)
    letters = collections.Counter(text)
"""


def yard():
    """Seconds that the yard takes now."""
    start = time.monotonic()
    subprocess.run([sys.executable, "-c", WORK], check=True)
    return time.monotonic() - start


def timed(command, statuses, **options):
    """Seconds of a command whose output is not looked at, and which ends with one of these."""
    start = time.monotonic()
    done = subprocess.run(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, **options)
    seconds = time.monotonic() - start
    if done.returncode not in statuses:
        sys.exit(f"{command} ended with {done.returncode}")
    return seconds


def shortest(run, rounds=3):
    """The shortest of some runs, in seconds and in yards; `run` returns seconds. The yard is the
    median of those measured before, between and after the runs."""
    yards = [yard()]
    seconds = []
    for _ in range(rounds):
        seconds.append(run())
        yards.append(yard())
    return min(seconds), min(seconds) / statistics.median(yards)


def said(what, seconds, yards, limit):
    """Prints a measurement with its limit in yards, and returns whether it is kept."""
    print(f"{what}: {seconds:.3f} s, {yards:.2f} yards (limit {limit})", flush=True)
    return yards < limit
