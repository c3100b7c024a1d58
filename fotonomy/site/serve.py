"""``python -m fotonomy.site.serve``: the program behind a real server."""

import os

from waitress import serve

from fotonomy.site.wsgi import application

# Room for a form or a setup file, and no more.
LARGEST_BODY = 2_000_000


def main() -> None:
    """Serve on FOTONOMY_HOST and FOTONOMY_PORT (127.0.0.1:8000)."""
    host = os.environ.get("FOTONOMY_HOST", "127.0.0.1")
    port = int(os.environ.get("FOTONOMY_PORT", "8000"))
    print(f"Fotonomy is open at http://{host}:{port}/  (stop it with Ctrl+C)", flush=True)
    serve(
        application, host=host, port=port, threads=4, ident=None, max_request_body_size=LARGEST_BODY
    )


if __name__ == "__main__":
    main()
