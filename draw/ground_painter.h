// Strata: how they look, where they lie along the Cut, and the depth chart.
#pragma once
#include <QPainter>

#include "core/fields/depth_chart.h"
#include "core/ground/soil_profile.h"
#include "draw/look.h"

namespace mossbed {

// Quiet earth tones and hatches, by a stratum's place in the list of strata.
QColor stratum_colour(int stratum);
void fill_stratum(QPainter& p, const QPainterPath& shape, int stratum);

struct BoundaryHandle {  // where a layer's bottom meets a borehole, as drawn
    int borehole = -1, layer = -1;
    QPointF at;
};

// Overburden and added stress over depth, the limit, and what each layer settles.
void draw_depth_chart(QPainter& p, const DepthChart& chart, const Model& model, const QRectF& area);

}  // namespace mossbed
