// Largest pressure and share in contact of all combinations at a glance: a bar each, purpose by purpose, the worst in
// red with its name. A click makes one the one on the Plan.
#pragma once
#include <QWidget>

#include "app/desk.h"

namespace mossbed {

class Skyline : public QWidget {
    Q_OBJECT
  public:
    explicit Skyline(Desk* desk, QWidget* parent = nullptr);
    QSize sizeHint() const override;
    // Where the bar of a combination stands; nothing where it has none.
    QRectF place_of(const std::string& combination) const;
    QString tip_at(QPointF p) const;  // "S3: 170 kPa, 100 % in contact"

  protected:
    void paintEvent(QPaintEvent* e) override;
    void mousePressEvent(QMouseEvent* e) override;
    bool event(QEvent* e) override;  // tips

  private:
    struct Row {  // of one purpose
        Purpose purpose = Purpose::service;
        std::vector<const CombinationSummary*> of;
    };
    void renew();
    double room() const;  // for the bars
    double pace(const Row& row) const;
    const CombinationSummary* at(QPointF p) const;
    void paint_row(QPainter& p, const Row& row, double top) const;

    Desk* desk_;
    std::vector<Row> rows_;
};

}  // namespace mossbed
