"""``python -m fotonomy.site.serve``: the program behind a real server, one process or several."""

import os
import signal
import socket
import sys
from pathlib import Path
from types import FrameType

from waitress import serve

from fotonomy.site.file_permissions import keep_private

# Requests answered at a time by each process; half of them at most wait for long work.
THREADS = 12
# A connection that says nothing for so long is cut, finished or not.
SILENT_S = 30
# More than the program itself lets through, so that it can refuse in its own words.
ROOM = 16 * 1024 * 1024


def _answer(listening: socket.socket) -> None:
    """Answer requests on a socket that is listened on already."""
    from django.conf import settings

    from fotonomy.site.wsgi import application
    from fotonomy.web.memory import few_pools

    few_pools()

    serve(
        application, sockets=[listening], threads=THREADS, ident=None,
        max_request_body_size=settings.LARGEST_REQUEST + ROOM, channel_timeout=SILENT_S,
        connection_limit=400, cleanup_interval=10,
        # What the proxy says is read by the program, which believes it only where it is told to.
        clear_untrusted_proxy_headers=not settings.BEHIND_PROXY,
    )  # fmt: skip


def _child(listening: socket.socket) -> int:
    """A process of its own that answers; its id."""
    pid = os.fork()
    if pid == 0:
        signal.signal(signal.SIGTERM, signal.SIG_DFL)
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        _answer(listening)
        os._exit(0)
    return pid


def _watch(listening: socket.socket, workers: int) -> None:
    """Keep so many processes answering until told to stop; one that dies is replaced."""
    alive: set[int] = set()
    stopping = False

    def stop(number: int, frame: FrameType | None) -> None:
        nonlocal stopping
        stopping = True
        for pid in alive:
            os.kill(pid, signal.SIGTERM)

    for name in (signal.SIGTERM, signal.SIGINT):
        signal.signal(name, stop)
    while not stopping or alive:
        while not stopping and len(alive) < workers:
            alive.add(_child(listening))
        try:
            pid, _ = os.wait()
        except ChildProcessError:
            break
        except InterruptedError:
            continue
        alive.discard(pid)


def listen(host: str, port: int) -> socket.socket:
    """A socket on this address, shared by all processes."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listening = socket.socket(family, socket.SOCK_STREAM)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listening.bind((host, port))
    listening.listen(1024)
    return listening


def main() -> None:
    """Serve on FOTONOMY_HOST and FOTONOMY_PORT (127.0.0.1:8000) with FOTONOMY_WORKERS processes."""
    host = os.environ.get("FOTONOMY_HOST", "127.0.0.1")
    port = int(os.environ.get("FOTONOMY_PORT", "8000"))
    workers = int(os.environ.get("FOTONOMY_WORKERS", "1"))
    if not 1 <= workers <= 64:
        sys.exit("FOTONOMY_WORKERS: 1 to 64 processes")
    keep_private(Path(os.environ.get("FOTONOMY_DATA_DIR", "var")))
    listening = listen(host, port)
    print(f"Fotonomy is open at http://{host}:{port}/  (stop it with Ctrl+C)", flush=True)
    if workers == 1:
        _answer(listening)
    else:
        _watch(listening, workers)


if __name__ == "__main__":
    main()
