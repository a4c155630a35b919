"""The plate: the dark surface on which things are drawn to scale and worked on."""
