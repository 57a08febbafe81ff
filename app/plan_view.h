// The plan on the screen: draws through draw/plan_painter and turns the hand's motions into edits.
#pragma once
#include <QWidget>

#include "app/desk.h"
#include "draw/plan_painter.h"

namespace mossbed {

enum class Tool { choose, draw_slab, add_column };

class PlanView : public QWidget {
    Q_OBJECT
  public:
    explicit PlanView(Desk* desk, QWidget* parent = nullptr);
    Tool tool() const { return tool_; }
    void take(Tool t);
    void show_all();
    QPointF on_screen(Point p) const { return camera_.at(p); }
    Point in_plan(QPointF p) const { return camera_.back(p); }
    PlanScene scene() const;
    QString hint() const;     // what a click does now
    QString reading() const;  // value under the pointer
    void delete_chosen();

  Q_SIGNALS:
    void tool_changed();
    void hint_changed();

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* e) override;
    void mouseMoveEvent(QMouseEvent* e) override;
    void mouseReleaseEvent(QMouseEvent* e) override;
    void mouseDoubleClickEvent(QMouseEvent* e) override;
    void wheelEvent(QWheelEvent* e) override;
    void keyPressEvent(QKeyEvent* e) override;
    void leaveEvent(QEvent*) override;
    void resizeEvent(QResizeEvent*) override;

  private:
    enum class Hold { nothing, pan, band, columns, rim, corner, cut_a, cut_b, cut_all, key_low, key_high };
    struct Grip {
        Hold hold = Hold::nothing;
        int index = -1;
    };
    struct Snap {
        Point at;
        QString note;
    };
    Grip grip_at(QPointF p) const;
    Snap snap(Point p, bool to_columns) const;
    void drag(QPointF to, bool free);
    void finish_drag();
    void click_on_ground();
    void place_corner(Point p);
    void close_outline();
    void place_column(Point p);
    void draw_preview(QPainter& p);
    void tag(QPainter& p, QPointF at, const QString& text);
    std::string column_at(QPointF p) const;

    Desk* desk_;
    Camera camera_;
    bool fitted_ = false;
    Tool tool_ = Tool::choose;
    Grip grip_, hover_;
    QPointF pressed_, mouse_;
    bool moved_ = false;
    Model before_;  // of the edit under way
    Camera camera_before_;
    Point cut_before_[2];
    Bands bands_before_;
    QString note_;        // beside the pointer
    Polygon drawing_;     // corners set so far
    QString typed_;       // a length, or x, y, while drawing
    mutable QRectF key_;  // the ruler's bar as last drawn
    std::shared_ptr<const Answer> found_for_;
    mutable std::unique_ptr<Finder> finder_;
};

}  // namespace mossbed
