# An SFTP server that asks for a password, for as long as it is not killed.
#   python3 sftp_server.py HOST_KEY FOLDER PORT USER PASSWORD_FILE
import asyncio
import pathlib
import sys

import asyncssh

host_key, folder, port, user, password_file = sys.argv[1:]
password = pathlib.Path(password_file).read_text().rstrip("\n")


class Door(asyncssh.SSHServer):
    def password_auth_supported(self):
        return True

    def validate_password(self, name, given):
        return name == user and given == password


class Files(asyncssh.SFTPServer):
    # A name like this one is taken by somebody else in the moment before a file is given it.
    def rename(self, old, new):
        if new.endswith(b"taken meanwhile.pdf"):
            pathlib.Path(self.map_path(new).decode()).write_text("another's")
        return super().rename(old, new)


async def serve():
    await asyncssh.listen(
        "127.0.0.1",
        int(port),
        reuse_address=True,
        server_host_keys=[host_key],
        server_factory=Door,
        sftp_factory=lambda channel: Files(channel, chroot=folder.encode()),
    )
    await asyncio.Event().wait()


asyncio.run(serve())
