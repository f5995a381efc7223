"""From the pixels of a photo to lines in millimetres: the picture, the camera, the blade's outline.

Nothing here knows the record; what the lines say of the blade is calculated in the core.
"""
