// Pictures and drawings that lie dimmed behind the plan: read once, placed by the model, painted under everything else.
#pragma once
#include <QImage>
#include <QPainter>
#include <map>

#include "core/model/model.h"
#include "draw/camera.h"

namespace mossbed {

class Underlays {
  public:
    // Names of files are looked up from `folder`, that of the model. Those that cannot be read are left out.
    void paint(QPainter& p, const Camera& camera, const Model& model, const QString& folder);
    // The picture of one, empty where it cannot be read.
    const QImage& picture(const std::string& file, const QString& folder);

  private:
    struct Lines {
        std::vector<std::vector<Point>> strokes;  // in units of the drawing
        Box extent;
    };
    const Lines& lines(const std::string& file, const QString& folder);
    void paint_lines(QPainter& p, const Camera& camera, const Underlay& u, const Lines& lines) const;
    std::map<QString, QImage> read_;  // by whole path
    std::map<QString, Lines> drawings_;
};

// The same file as it is to stand in the model: from its folder where it lies in it.
std::string name_of_underlay(const QString& file, const QString& folder);

}  // namespace mossbed
