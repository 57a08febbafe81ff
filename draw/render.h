// Drawings onto any QPainter: window, picture, printer, PDF, SVG. Painted in paper units; the painter's own scale makes
// them larger or finer.
#pragma once
#include <QPainter>

#include "draw/camera.h"
#include "draw/look.h"

namespace mossbed {

// Only what falls within `paper` is drawn; the sheet itself is not filled.
void paint_drawing(QPainter& p, const Drawing& drawing, const View& view, const QRectF& paper);

}  // namespace mossbed
