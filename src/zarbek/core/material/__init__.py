"""All that touches the disk, the environment, sockets and other programs."""
