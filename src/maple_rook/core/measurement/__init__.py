"""What is measured, in which unit, with which uncertainty: the ground of the other rooms."""
