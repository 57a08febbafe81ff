#include "app/underlays.h"

#include <QDir>
#include <QPainterPath>

#include "core/exchange/drawing_plan.h"
#include "core/file/text_file.h"
#include "draw/look.h"

namespace mossbed {

const QImage& Underlays::picture(const std::string& file, const QString& folder) {
    const QString path = QDir(folder).absoluteFilePath(QString::fromStdString(file));
    const auto it = read_.find(path);
    return it != read_.end() ? it->second : read_.emplace(path, QImage(path)).first->second;
}

const Underlays::Lines& Underlays::lines(const std::string& file, const QString& folder) {
    const QString path = QDir(folder).absoluteFilePath(QString::fromStdString(file));
    if (const auto it = drawings_.find(path); it != drawings_.end()) return it->second;
    Lines out;
    try {
        PlanOptions as_drawn;
        as_drawn.unit = 1, as_drawn.origin = Point{};
        out.strokes = read_plan(read_drawing(read_text(path.toStdString())), as_drawn).strokes;
    } catch (const Trouble&) {  // left out, as pictures are that cannot be read
    }
    for (const auto& stroke : out.strokes)
        for (Point q : stroke) out.extent.add(q);
    return drawings_.emplace(path, std::move(out)).first->second;
}

void Underlays::paint_lines(QPainter& p, const Camera& camera, const Underlay& u, const Lines& lines) const {
    if (!(lines.extent.width() > 0) || !(u.width > 0)) return;
    const double scale = u.width / lines.extent.width();
    QPainterPath path;
    for (const auto& stroke : lines.strokes)
        for (size_t k = 0; k < stroke.size(); ++k) {
            const QPointF q = camera.at(u.at + turned(scale * (stroke[k] - lines.extent.low), u.angle));
            k == 0 ? path.moveTo(q) : path.lineTo(q);
        }
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setOpacity(std::clamp(u.strength, 0.0, 1.0));
    p.strokePath(path, QPen(look::ink, 1));
    p.restore();
}

void Underlays::paint(QPainter& p, const Camera& camera, const Model& m, const QString& folder) {
    for (const Underlay& u : m.underlays) {
        if (QFileInfo(QString::fromStdString(u.file)).suffix().toLower() == "dxf") {
            paint_lines(p, camera, u, lines(u.file, folder));
            continue;
        }
        const QImage& image = picture(u.file, folder);
        if (image.isNull() || !(u.width > 0)) continue;
        p.save();
        p.setRenderHint(QPainter::SmoothPixmapTransform);
        p.setOpacity(std::clamp(u.strength, 0.0, 1.0));
        p.translate(camera.at(u.at));
        p.rotate(-u.angle);  // on the screen y runs down
        const double width = u.width * camera.scale, height = width * image.height() / image.width();
        p.drawImage(QRectF(0, -height, width, height), image);
        p.restore();
    }
}

std::string name_of_underlay(const QString& file, const QString& folder) {
    const QString near = QDir(folder).relativeFilePath(file);
    return (folder.isEmpty() || near.startsWith("..") ? QFileInfo(file).absoluteFilePath() : near).toStdString();
}

}  // namespace mossbed
