#!/usr/bin/env python3
"""What the sanitizers look at after a change: reads the names of changed files, one on each line, and prints two lines.

The first has the sources to be compiled with sanitizers, with semicolons between them: the changed sources (of tests,
too) and, for a changed header, the source of the same name or one that includes it. The second has a regular expression
for CTest with the suites of the tests that are named after a changed file or its header; if there are none, of those
that include its header; if none does, of those of a file that uses it; if there are none either, of those that include
a header of its folder. The suites of changed tests are added, and for a changed program without a window those of the
tests that start it. Both lines are empty if nothing can be tested.
"""
import re
import subprocess
import sys
from pathlib import Path

PROGRAMS = ("src/batch/", "src/bench_server/")  # tests start them as processes


def tracked(pattern):
    return subprocess.run(["git", "ls-files", "-co", "--exclude-standard", pattern], check=True, capture_output=True,
                          text=True).stdout.split()


def included(file, texts):
    """The own headers that a file includes, those of the tests' support followed."""
    seen, to_do = set(), [file]
    while to_do:
        for name in re.findall(r'^#include "([^"]+)"', texts.get(to_do.pop(), ""), re.MULTILINE):
            header = f"tests/{name}" if Path("tests", name).exists() else f"src/{name}"
            if header not in seen:
                seen.add(header)
                if header.startswith("tests/"):
                    to_do.append(header)
    return seen


def headers_of(file, texts):
    """The file's header: of its own name or, for a part of a larger unit, the headers of its folder that it includes."""
    header = file[:-4] + ".h" if file.endswith(".cpp") else file
    if header in texts:
        return {header}
    folder = file.rpartition("/")[0].removeprefix("src/") + "/"
    return {f"src/{name}" for name in re.findall(r'^#include "([^"]+)"', texts.get(file, ""), re.MULTILINE)
            if name.startswith(folder)}


def suites(text):
    """The names of the tests of a file as CTest knows them, up to the dot."""
    found = set(re.findall(r"^TEST(?:_F|_P)?\(\s*(\w+)", text, re.MULTILINE))
    return {name for name in found if name != "main"}


def main():
    changed = [line.strip() for line in sys.stdin if line.strip()]
    texts = {file: Path(file).read_text() for pattern in ("src", "tests") for file in tracked(pattern)
             if file.endswith((".cpp", ".h")) and Path(file).exists()}
    changed = [file for file in changed if file in texts]
    includes = {file: included(file, texts) for file in texts}

    sources = {file for file in changed if file.endswith(".cpp")}
    for header in (file for file in changed if file.endswith(".h")):
        own = header[:-2] + ".cpp"
        users = sorted((file for file in texts if file.endswith(".cpp") and header in includes[file]),
                       key=lambda file: (file.startswith("tests/"), file))
        sources.update([own] if own in texts else users[:1])

    tests = [file for file in texts if file.startswith("tests/") and file.endswith("_test.cpp")]
    to_run = {file for file in changed if file in tests}
    for file in changed:
        if file in tests:
            continue  # it runs itself
        if file.startswith(PROGRAMS):
            to_run.update(test for test in tests if test.startswith("tests/batch"))
            continue
        headers, near = headers_of(file, texts), {test for test in tests if Path(test).name == Path(file).stem + "_test.cpp"}
        for _ in range(8):  # from the file to those that use it, until a test is found
            if near or not headers:
                break
            for header in headers:
                named = [test for test in tests if Path(test).name == Path(header).stem + "_test.cpp"]
                near.update(named or [test for test in tests if header in includes[test]])
            headers = set().union(*(headers_of(user, texts) for user in texts
                                    if user.startswith("src/") and headers & includes[user]))
        folder = file.rpartition("/")[0] + "/"
        to_run.update(near or [test for test in tests if any(name.startswith(folder) for name in includes[test])])
    names = sorted(set().union(*(suites(texts[file]) for file in to_run)) if to_run else [])
    print(";".join(sorted(sources)))
    print(f"^(.*/)?({'|'.join(names)})[./]" if names else "")


main()
