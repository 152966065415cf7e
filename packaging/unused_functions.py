#!/usr/bin/env python3
"""Names the functions that a header of src declares and nothing in src, tests or bench uses.

The compilers see unused functions of one source only. Here a name counts as used wherever it stands besides its own
declarations and definitions, so a function that shares its name with a used one is not found. Overrides are left out.
Prints a line for each and exits with 1 if there are any.
"""
import re
import subprocess
import sys
from pathlib import Path

STATEMENT = re.compile(r"^\s*(return|else|emit|throw|delete|new|case|co_return|goto|using|typedef|if|while|for|switch)\b")
DECLARATION = re.compile(r"^\s*(?:\[\[\w+\]\]\s*)?(?:[\w:]+(?:<.*>)?(?:::\w+)?(?:\s*[&*]+\s*|\s+))+[&*]*(?:\w+::)*(\w+)\s*\(")


def code_of(file):
    """The file without comments and without the contents of strings, line by line."""
    text = Path(file).read_text()
    text = re.sub(r'R"(\w*)\((.*?)\)\1"', lambda match: '""' + "\n" * match[0].count("\n"), text, flags=re.DOTALL)
    text = re.sub(r'"(?:[^"\\\n]|\\.)*"', '""', text)
    return re.sub(r"//[^\n]*", "", text).split("\n")


def declared(line):
    """The name that a line declares or defines as a function, or nothing."""
    match = None if STATEMENT.match(line) else DECLARATION.match(line)
    return match[1] if match else None


def main():
    files = [file for file in subprocess.run(["git", "ls-files", "-co", "--exclude-standard", "src", "tests", "bench"],
                                             check=True, capture_output=True, text=True).stdout.split()
             if file.endswith((".cpp", ".h")) and Path(file).exists()]
    places, used = {}, set()
    for file in files:
        for number, line in enumerate(code_of(file), 1):
            name = declared(line) if file.startswith("src/") else None
            indented = line.startswith((" ", "\t"))
            if name and file.endswith(".cpp") and indented:
                name = None  # a call, or a variable
            words = re.findall(r"\w+", line)
            if name:
                words.remove(name)
                if file.endswith(".h") and " override" not in line and "Q_" not in line:
                    places.setdefault(name, f"{file}:{number}")
            used.update(words)
    unused = {name: place for name, place in places.items() if name not in used}
    for name, place in sorted(unused.items(), key=lambda item: item[1]):
        print(f"{place}: {name}() is used nowhere")
    return 1 if unused else 0


sys.exit(main())
