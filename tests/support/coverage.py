"""What no test executes, by folder: reads gcovr's JSON.

usage: coverage.py JSON EXPLAINED

Prints for each folder how many of its lines and of its error branches are executed, then each error branch that is not
and that EXPLAINED (docs/unreached.md) does not name, and ends with 1 if there is one.

An error branch is a line that names an error, a stop or an exception (see NAMES), or the line that leads there: it
counts as executed if the line was, and both sides of each condition on it. Branches that only an exception takes out of
an ordinary call are left out by gcovr. EXPLAINED has a table "| file | the line's text | why |".
"""
import collections
import json
import re
import sys

NAMES = re.compile(r"\bfail\(|unexpected|\bcatch\b|\berror\(\)|errno|stop_requested|stopped\(|failed|failure|"
                   r"\bcode\b|complain|trouble|throw\b|ErrorKind|return false|nullopt")


def folder_of(path):
    return path.rsplit("/", 1)[0].removeprefix("src/")


def explained_in(path):
    out = set()
    with open(path, encoding="utf-8") as lines:
        for line in lines:
            cells = [cell.strip() for cell in re.split(r"(?<!\\)\|", line)]
            if len(cells) > 4 and cells[1].endswith((".cpp", ".h")):
                out.add((cells[1], cells[2].strip("`").replace("\\|", "|")))
    return out


def main():
    with open(sys.argv[1], encoding="utf-8") as file:
        report = json.load(file)
    explained, used = explained_in(sys.argv[2]), set()
    lines = collections.defaultdict(lambda: [0, 0])
    errors = collections.defaultdict(lambda: [0, 0])
    missing = []
    for each in sorted(report["files"], key=lambda f: f["file"]):
        name, folder = each["file"], folder_of(each["file"])
        with open(name, encoding="utf-8") as file:
            text = file.read().split("\n")
        for line in each["lines"]:
            if line.get("gcovr/noncode"):
                continue
            number, words = line["line_number"], text[line["line_number"] - 1].strip()
            run = line["count"] > 0
            lines[folder][0] += run
            lines[folder][1] += 1
            if not NAMES.search(words):
                continue
            branches = [] if words.startswith("} catch") else line["branches"]  # of which kind it is, is its landing's
            whole = run and all(branch["count"] > 0 for branch in branches if not branch["throw"])
            key = (name.removeprefix("src/"), words)
            if not whole and key in explained:
                used.add(key)
                continue
            errors[folder][0] += whole
            errors[folder][1] += 1
            if not whole:
                missing.append(f"{name}:{number}: {'never' if not run else 'one side only'}: {words}")
    for folder in sorted(lines):
        run, all_lines = lines[folder]
        error, all_errors = errors[folder]
        print(f"{folder:20} lines {run:5} of {all_lines:5} ({100 * run / max(1, all_lines):5.1f} %)   "
              f"error branches {error:4} of {all_errors:4} ({100 * error / max(1, all_errors):5.1f} %)")
    print(*missing, sep="\n")
    for name, words in sorted(explained - used):
        print(f"{sys.argv[2]} explains what is executed, or not there any more: {name}: {words}")
    return 1 if missing else 0


if __name__ == "__main__":
    sys.exit(main())
