#!/usr/bin/env python3
"""Changes an operator or a constant in the core or the readers at random, builds, runs the tests, and
lists the changes that no test noticed.

Usage: mutate.py BUILD_FOLDER [COUNT] [SEED]
Works on a copy of the sources beside the build folder; the sources themselves are never touched."""
import pathlib
import random
import re
import shutil
import subprocess
import sys

CHANGES = [(" < ", " <= "), (" <= ", " < "), (" > ", " >= "), (" >= ", " > "), (" + ", " - "), (" - ", " + "),
           (" * ", " / "), (" / ", " * "), (" && ", " || "), (" || ", " && "), (" == ", " != "), (" != ", " == "),
           ("std::min(", "std::max("), ("std::max(", "std::min("), (" = true", " = false"), (" = false", " = true"),
           ("return true", "return false"), ("return false", "return true")]
TESTS = ["test_core", "test_formats", "test_cli"]


def places(folder):
    """Every change that could be made: file, line, column, from, to. Comments and texts are left alone."""
    for path in sorted(folder.glob("src/core/**/*.cpp")) + sorted(folder.glob("src/formats/**/*.cpp")):
        for number, line in enumerate(path.read_text().splitlines()):
            code = line.split("//")[0]
            if not code.strip() or code.lstrip().startswith(("#", "*")):
                continue
            bare = re.sub(r'"(\\.|[^"\\])*"', lambda text: "_" * len(text.group()), code)
            for old, new in CHANGES:
                for found in re.finditer(re.escape(old), bare):
                    yield path.relative_to(folder), number, found.start(), old, new


def run(command, limit_s):
    try:
        return subprocess.run(command, capture_output=True, text=True, timeout=limit_s).returncode
    except subprocess.TimeoutExpired:
        return -1


def noticed(build, targets):
    """How: "build", a test's name, or "" if nothing noticed."""
    if run(["cmake", "--build", build, "--target", *targets], 900) != 0:
        return "build"
    for target in targets:
        if run([f"{build}/tests/{target}", "--gtest_fail_fast", "--gtest_brief=1"], 120) != 0:
            return target
    return ""


def main():
    source = pathlib.Path(__file__).resolve().parent.parent
    work = pathlib.Path(sys.argv[1]).resolve()
    count = int(sys.argv[2]) if len(sys.argv) > 2 else 200
    dice = random.Random(int(sys.argv[3]) if len(sys.argv) > 3 else 1)
    copy, build = work / "sources", work / "build"
    work.mkdir(parents=True, exist_ok=True)
    shutil.rmtree(copy, ignore_errors=True)
    shutil.copytree(source, copy, ignore=shutil.ignore_patterns("build", ".git", ".cache"), symlinks=True)
    run(["cmake", "-S", copy, "-B", build, "-G", "Ninja", "-DCMAKE_BUILD_TYPE=Debug", "-DCMAKE_CXX_FLAGS=-O1"], 300)
    if (how := noticed(build, TESTS)):
        sys.exit(f"the sources as they are do not pass: {how}")
    chosen = dice.sample(list(places(copy)), count)
    survivors = []
    for at, (path, number, column, old, new) in enumerate(chosen, 1):
        file = copy / path
        original = file.read_text()
        lines = original.splitlines(keepends=True)
        line = lines[number]
        lines[number] = line[:column] + new + line[column + len(old):]
        file.write_text("".join(lines))
        how = noticed(build, TESTS)
        file.write_text(original)
        if not how:
            survivors.append(f"{path}:{number + 1}:{old.strip()} → {new.strip()}:  {line.strip()}")
        print(f"{at}/{count} {how or 'NOT NOTICED'}: {path}:{number + 1} {old.strip()} → {new.strip()}", flush=True)
    print(f"\n{count - len(survivors)} of {count} noticed. Not noticed:")
    print("\n".join(survivors))


if __name__ == "__main__":
    main()
