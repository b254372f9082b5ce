"""Names in blocks of code whose language is not read."""

import re

_PARTS = r"[A-Za-z_]\w*(?:(?:\.|::)[A-Za-z_]\w*)+"
#: A name of several parts in code: of one part it may be anything.
QUALIFIED = re.compile(rf"(?<![\w.:$@\"'/-]){_PARTS}")
#: The same where it is all that stands in a text between quotation marks, as in a diagram.
QUOTED_NAME = re.compile(rf"(?<=\"){_PARTS}(?=(?:\(\))?\")")
