"""Every change to findings, waivers and what a project's history says of them."""
