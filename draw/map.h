// Maps over the slab: values at element corners, banded, with isolines and labels, and the ruler that reads them.
#pragma once
#include <QPainter>
#include <QRectF>
#include <optional>

#include "core/answer/answer.h"
#include "draw/look.h"

namespace mossbed {

enum class Quantity { none, settlement, pressure, gross, net, modulus, mx, my, mxy };
struct QuantityInfo {
    Quantity quantity;
    const char* key;  // for settings and tests
    const char* title;
    const char* unit;
    look::Scale scale;
};
const std::vector<QuantityInfo>& quantities();
const QuantityInfo& info(Quantity q);

// Where plan points fall on the paper: y up in the plan, down on the paper.
struct Camera {
    double scale = 20;  // pixels per m
    QPointF origin;     // of the plan on the paper
    QPointF at(Point p) const { return {origin.x() + scale * p.x, origin.y() - scale * p.y}; }
    Point back(QPointF q) const { return {(q.x() - origin.x()) / scale, (origin.y() - q.y()) / scale}; }
    void show(const Box& box, const QRectF& area);  // fits the box into the area
};

struct Bands {
    double low = 0, high = 1;
    int n = 8;
    double step() const { return (high - low) / n; }
    bool operator==(const Bands&) const = default;
};

struct FieldMap {
    std::vector<std::array<double, 4>> corner;  // per element, in the quantity's unit
    double least = 0, most = 0;
    Point least_at, most_at;
};
FieldMap make_map(const Answer& answer, const CombinationAnswer& combination, Quantity quantity);
Bands natural_bands(const FieldMap& map, Quantity quantity);  // round steps; moments even about nothing

void draw_bands(QPainter& p, const Camera& camera, const Mesh& mesh, const FieldMap& map, const Bands& bands,
                look::Scale scale);
void draw_isolines(QPainter& p, const Camera& camera, const Mesh& mesh, const FieldMap& map, const Bands& bands,
                   Quantity quantity);
// The part of the slab where the values lie above (or below) a level, as a path on the paper.
QPainterPath region(const Camera& camera, const Mesh& mesh, const FieldMap& map, double level, bool above);

// A ruler with its numbers; `mark` draws a limit. Returns the rectangle of the bar itself.
QRectF draw_ruler(QPainter& p, const QRectF& area, const QString& title, Quantity quantity, const Bands& bands,
                  std::optional<double> mark, const QString& mark_text);

}  // namespace mossbed
