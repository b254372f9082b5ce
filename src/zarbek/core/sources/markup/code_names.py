"""Names in blocks of code whose language is not read."""

import re

#: A name of several parts in code: of one part it may be anything.
QUALIFIED = re.compile(r"(?<![\w.:$@\"'/-])[A-Za-z_]\w*(?:(?:\.|::)[A-Za-z_]\w*)+")
#: The same where it is all that stands in a text between quotation marks, as in a diagram.
QUOTED_NAME = re.compile(r"(?<=\")[A-Za-z_]\w*(?:(?:\.|::)[A-Za-z_]\w*)+(?=(?:\(\))?\")")
