"""The picture in space: parts as triangles, posed, seen by a camera, drawn in ink on paper."""
