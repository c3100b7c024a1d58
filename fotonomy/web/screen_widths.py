"""Up to which width a window is a phone's, and up to which it is of medium size, in CSS pixels.

Styles are bundled with them, pages say them to their scripts, drawings are cut by them.
"""

PHONE_TO, MEDIUM_TO = 620, 900
# What a page leaves free on either side, on a phone and elsewhere; styles have it as variables.
PHONE_EDGE, PAGE_EDGE = 14, 20
