// The maps of all combinations of one purpose, small and on one scale, each with its name and share in contact. A click
// makes one the one on the Plan.
#pragma once
#include <QImage>
#include <QWidget>

#include "app/desk.h"

namespace mossbed {

class SmallMaps : public QWidget {
    Q_OBJECT
  public:
    explicit SmallMaps(Desk* desk, QWidget* parent = nullptr);
    QString about() const;  // "All service rows, one scale: 0 to 150 kPa"
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override { return {260, heightForWidth(260)}; }
    int count() const { return int(maps_.size()); }
    QRectF place_of(int k) const;

  Q_SIGNALS:
    void renewed();

  protected:
    void paintEvent(QPaintEvent* e) override;
    void mousePressEvent(QMouseEvent* e) override;
    bool event(QEvent* e) override;  // tips

  private:
    struct SmallMap {
        std::string id;
        QImage image;
        QString note;
    };
    void renew();
    void sample();  // where each pixel lies in the mesh
    int columns(int width) const;
    int at(QPointF p) const;
    Purpose purpose() const;
    Quantity quantity() const;

    Desk* desk_;
    std::vector<SmallMap> maps_;
    int left_out_ = 0;
    Bands bands_;
    std::shared_ptr<const Answer> of_;
    Quantity of_quantity_ = Quantity::none;
    Purpose of_purpose_ = Purpose::service;
    std::shared_ptr<const Meshed> sampled_;
    std::vector<Finder::Hit> hits_;
    QSize pixels_;
};

// With its words above; both for a page of the Tray.
QWidget* small_maps(Desk* desk);

}  // namespace mossbed
