#!/usr/bin/env python3
"""Names the project's own headers that a source or header includes and does not use.

usage: unused_includes.py BUILD_FOLDER [FLAG...] < names of files

clangd finds them (clang-tidy has the check only from version 17 on), asked through its protocol: it is opened file by
file, and its diagnostics are read. The folder holds compile_commands.json; the flags are added to each command. Headers
of libraries are not judged. Prints a line for each and ends with 1 if there was any.
"""
import json
import os
import queue
import subprocess
import sys
import tempfile
import threading


class Clangd:
    def __init__(self, commands, config):
        self.process = subprocess.Popen(
            ["clangd-16", f"--compile-commands-dir={commands}", "--background-index=false", "--clang-tidy=false",
             "-j=1", "--log=error"],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
            env={**os.environ, "XDG_CONFIG_HOME": config})
        self.send({"id": 1, "method": "initialize", "params": {"processId": os.getpid(), "rootUri": None,
                                                              "capabilities": {}}})
        while self.receive().get("id") != 1:
            pass
        self.send({"method": "initialized", "params": {}})

    def send(self, message):
        body = json.dumps({"jsonrpc": "2.0", **message}).encode()
        self.process.stdin.write(b"Content-Length: %d\r\n\r\n" % len(body) + body)
        self.process.stdin.flush()

    def receive(self):
        length = 0
        while (line := self.process.stdout.readline().strip()) or not length:
            if not line:
                raise EOFError("clangd ended")
            name, value = line.decode().split(":")
            if name.lower() == "content-length":
                length = int(value)
        return json.loads(self.process.stdout.read(length))

    def unused_in(self, file):
        uri = "file://" + file
        with open(file, encoding="utf-8") as source:
            self.send({"method": "textDocument/didOpen", "params": {"textDocument": {
                "uri": uri, "languageId": "cpp", "version": 1, "text": source.read()}}})
        while True:
            message = self.receive()
            if message.get("method") == "textDocument/publishDiagnostics" and message["params"]["uri"] == uri:
                break
        self.send({"method": "textDocument/didClose", "params": {"textDocument": {"uri": uri}}})
        found = message["params"]["diagnostics"]
        # A file that does not compile is not judged; saying nothing about it would be a check that checks nothing.
        wrong = [each for each in found if each.get("severity") == 1]
        return [(each["range"]["start"]["line"] + 1, each["message"].splitlines()[0])
                for each in wrong or found if wrong or each.get("code") == "unused-includes"]


def main():
    folder, flags = sys.argv[1], sys.argv[2:]
    files = [os.path.abspath(name) for name in sys.stdin.read().split()]
    with tempfile.TemporaryDirectory() as scratch:
        with open(os.path.join(folder, "compile_commands.json"), encoding="utf-8") as source:
            commands = json.load(source)
        for each in commands:
            each["command"] = each["command"].replace(" -o ", " " + " ".join(flags) + " -o ", 1)
        with open(os.path.join(scratch, "compile_commands.json"), "w", encoding="utf-8") as out:
            json.dump(commands, out)
        os.mkdir(os.path.join(scratch, "clangd"))
        with open(os.path.join(scratch, "clangd", "config.yaml"), "w", encoding="utf-8") as out:
            out.write("Diagnostics:\n  UnusedIncludes: Strict\n")
        waiting, found, failed = queue.Queue(), [], []
        for name in files:
            waiting.put(name)

        def work():
            try:
                clangd = Clangd(scratch, scratch)
                while True:
                    name = waiting.get_nowait()
                    found.extend((name, line, words) for line, words in clangd.unused_in(name))
            except queue.Empty:
                clangd.process.kill()
            except (EOFError, OSError) as error:
                failed.append(str(error))

        threads = [threading.Thread(target=work) for _ in range(os.cpu_count() or 1)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    for name, line, words in sorted(found):
        print(f"{os.path.relpath(name)}:{line}: {words}")
    for words in failed:
        print(words, file=sys.stderr)
    return 1 if found or failed else 0


sys.exit(main())
