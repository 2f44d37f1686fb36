#!/usr/bin/env python3
"""Changes an operator or a constant in the core or the readers at random, builds, runs the tests, and
lists the changes that no test noticed.

Usage: mutate.py BUILD_FOLDER [COUNT] [SEED [FIRST]]
Works on a copy of the sources beside the build folder; the sources themselves are never touched."""
import os
import pathlib
import random
import re
import shutil
import subprocess
import sys
import time

# Of whole numbers the border is changed, of others the direction: no measured number lies on a border.
BORDERS = [(" < ", " <= "), (" <= ", " < "), (" > ", " >= "), (" >= ", " > ")]
DIRECTIONS = [(" < ", " > "), (" <= ", " >= "), (" > ", " < "), (" >= ", " <= ")]
COUNTS = re.compile(r"size\(\)|count|frames\b|\bint\b|size_t|\b(i|k|n|begin|end)\b|index|number")
CHANGES = [(" + ", " - "), (" - ", " + "),
           (" * ", " / "), (" / ", " * "), (" && ", " || "), (" || ", " && "), (" == ", " != "), (" != ", " == "),
           ("std::min(", "std::max("), ("std::max(", "std::min("), (" = true", " = false"), (" = false", " = true"),
           ("return true", "return false"), ("return false", "return true")]
# The longest is run in halves, so that it takes no core alone.
TESTS = [("test_core", {"GTEST_TOTAL_SHARDS": "2", "GTEST_SHARD_INDEX": "0"}),
         ("test_core", {"GTEST_TOTAL_SHARDS": "2", "GTEST_SHARD_INDEX": "1"}),
         ("test_formats", {}), ("test_live", {}), ("test_report", {}), ("test_store", {}), ("test_cli", {})]
TARGETS = sorted({target for target, _ in TESTS})


def places(folder):
    """Every change that could be made: file, line, column, from, to. Comments and texts are left alone."""
    for path in sorted(folder.glob("src/core/**/*.cpp")) + sorted(folder.glob("src/formats/**/*.cpp")):
        for number, line in enumerate(path.read_text().splitlines()):
            code = line.split("//")[0]
            if not code.strip() or code.lstrip().startswith(("#", "*")):
                continue
            bare = re.sub(r'"(\\.|[^"\\])*"', lambda text: "_" * len(text.group()), code)
            for old, new in CHANGES + (BORDERS if COUNTS.search(bare) else DIRECTIONS):
                for found in re.finditer(re.escape(old), bare):
                    yield path.relative_to(folder), number, found.start(), old, new


def run(command, limit_s):
    try:
        return subprocess.run(command, capture_output=True, text=True, timeout=limit_s).returncode
    except subprocess.TimeoutExpired:
        return -1


def first_failing(build, path):
    """The first test program that fails or takes too long, the others stopped then; "" if all pass.
    The command that listens to sensors takes its time: it is asked about what it uses alone."""
    near = next((name for name in ("formats", "live") if name in str(path)), "core")
    waiting, running = sorted(TESTS, key=lambda test: test[0] != f"test_{near}"), {}
    listens = "core/live" in str(path)
    try:
        while waiting or running:
            while waiting and len(running) < os.cpu_count():
                target, environment = waiting.pop(0)
                command = [f"{build}/tests/{target}", "--gtest_fail_fast", "--gtest_brief=1"]
                if target == "test_cli" and not listens:
                    command.append("--gtest_filter=-LiveCommand.*")
                running[subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
                                         env={**os.environ, **environment})] = (target, time.monotonic())
            time.sleep(0.02)
            for process, (target, begin) in list(running.items()):
                if process.poll() is not None:
                    del running[process]
                    if process.returncode != 0:
                        return target
                elif time.monotonic() - begin > 900:
                    return target
    finally:
        for process in running:
            process.kill()
            process.wait()
    return ""


def noticed(build, targets, path=""):
    """How: "build", a test's name, or "" if nothing noticed."""
    if run(["cmake", "--build", build, "--target", *targets], 1800) != 0:
        return "build"
    return first_failing(build, path)


def main():
    source = pathlib.Path(__file__).resolve().parent.parent
    work = pathlib.Path(sys.argv[1]).resolve()
    count = int(sys.argv[2]) if len(sys.argv) > 2 else 200
    dice = random.Random(int(sys.argv[3]) if len(sys.argv) > 3 else 1)
    copy, build = work / "sources", work / "build"
    work.mkdir(parents=True, exist_ok=True)
    shutil.rmtree(copy, ignore_errors=True)
    # Not with their times: what was built of a change that a stopped run left is older than that.
    shutil.copytree(source, copy, ignore=shutil.ignore_patterns("build", ".git", ".cache"), symlinks=True,
                    copy_function=shutil.copy)
    run(["cmake", "-S", copy, "-B", build, "-G", "Ninja", "-DCMAKE_BUILD_TYPE=Release", "-DCMAKE_CXX_FLAGS_RELEASE=-O2",
         "-DCMAKE_EXE_LINKER_FLAGS=-fuse-ld=gold"], 300)
    if (how := noticed(build, TARGETS)):
        sys.exit(f"the sources as they are do not pass: {how}")
    chosen = dice.sample(list(places(copy)), count)
    first = int(sys.argv[4]) if len(sys.argv) > 4 else 1
    survivors = []
    for at, (path, number, column, old, new) in enumerate(chosen, 1):
        if at < first:
            continue
        file = copy / path
        original = file.read_text()
        lines = original.splitlines(keepends=True)
        line = lines[number]
        lines[number] = line[:column] + new + line[column + len(old):]
        file.write_text("".join(lines))
        how = noticed(build, TARGETS, path)
        file.write_text(original)
        if not how:
            survivors.append(f"{path}:{number + 1}:{column + 1}: {old.strip()} → {new.strip()}:  {line.strip()}")
        print(f"{at}/{count} {how or 'NOT NOTICED'}: {path}:{number + 1}:{column + 1}: {old.strip()} → {new.strip()}", flush=True)
    print(f"\n{count - first + 1 - len(survivors)} of {count - first + 1} noticed. Not noticed:")
    print("\n".join(survivors))


if __name__ == "__main__":
    main()
