// The depth chart on the screen, of the point that is pinned or pointed at.
#pragma once
#include <QWidget>

#include "app/desk.h"

namespace mossbed {

class DepthView : public QWidget {
    Q_OBJECT
  public:
    explicit DepthView(Desk* desk, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {300, 300}; }
    const std::optional<DepthChart>& shown() const { return chart_; }

  Q_SIGNALS:
    void renewed();

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    bool was_old_ = false;  // as last told
    void renew();
    Desk* desk_;
    std::optional<DepthChart> chart_;
    std::shared_ptr<const Answer> of_;  // what chart_ was made from
    std::string combination_;
    std::optional<Point> at_;
};

}  // namespace mossbed
