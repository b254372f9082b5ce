"""The compiler of Protocol Buffers, run as a program of its own."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Mapping, Sequence

from zarbek.core.material.scratch import scratch_folder


def compile_protos(
    files: Mapping[str, str], missing: Mapping[str, str], roots: Sequence[str], wanted: Sequence[str], limit_s: float
) -> tuple[bytes, str]:
    """(a FileDescriptorSet with source info, what the compiler told); no bytes where it gave none in time.

    files: texts by path. missing: texts of files that are imported and not there. roots: folders among the files
    from which imports are meant; wanted: the files to compile, as seen from them.
    """
    placed = {f"in/{file}": text for file, text in files.items()} | {f"missing/{f}": t for f, t in missing.items()}
    with scratch_folder("proto", placed) as folder:
        (folder / "in").mkdir(exist_ok=True)
        (folder / "missing").mkdir(exist_ok=True)
        out = folder / "out.bin"
        command = [
            sys.executable, "-m", "grpc_tools.protoc", *(f"-I{folder / 'in' / root}" for root in roots),
            f"-I{folder / 'missing'}", "--include_source_info", f"--descriptor_set_out={out}", *wanted,
        ]  # fmt: skip
        try:
            done = subprocess.run(command, cwd=folder, capture_output=True, text=True, timeout=limit_s, check=False)
        except subprocess.TimeoutExpired:
            return b"", ""
        return (out.read_bytes() if done.returncode == 0 and out.exists() else b""), done.stderr
