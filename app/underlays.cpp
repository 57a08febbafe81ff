#include "app/underlays.h"

#include <QDir>

namespace mossbed {

const QImage& Underlays::picture(const std::string& file, const QString& folder) {
    const QString path = QDir(folder).absoluteFilePath(QString::fromStdString(file));
    const auto it = read_.find(path);
    return it != read_.end() ? it->second : read_.emplace(path, QImage(path)).first->second;
}

void Underlays::paint(QPainter& p, const Camera& camera, const Model& m, const QString& folder) {
    for (const Underlay& u : m.underlays) {
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
