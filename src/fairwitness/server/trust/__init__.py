"""The figures of the study that ships."""
