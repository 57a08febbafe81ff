// The plan on the screen: draws through draw/plan_painter, pans and zooms, and hands the rest to the tool in hand.
#pragma once
#include <QFrame>
#include <QPixmap>
#include <QWidget>

#include "app/tools/tool.h"
#include "app/underlays.h"

namespace mossbed {

class PlanView : public QWidget, private ToolBench {
    Q_OBJECT
  public:
    explicit PlanView(Desk* desk, QWidget* parent = nullptr);
    ToolKind tool() const { return desk_->tool; }
    void take(ToolKind kind) override;
    void show_all();
    QPointF on_screen(Point p) const { return camera_.at(p); }
    Point in_plan(QPointF p) const { return camera_.back(p); }
    PlanScene scene() const;
    void add_table(PlanScene& scene) const;         // that is looked at before it is taken
    QString hint() const { return tool_->hint(); }  // what a click does now
    QString reading() const override;               // value under the pointer
    void delete_chosen();
    void type_scale();  // ends and bands of the key
    bool put_down();    // what is in hand: a drag, a tool, what is chosen; false when there was nothing
    bool is_dragging() const { return held_ == Qt::LeftButton; }

  Q_SIGNALS:
    void tool_changed();
    void hint_changed();
    void working_wanted(std::string key);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* e) override;
    void mouseMoveEvent(QMouseEvent* e) override;
    void mouseReleaseEvent(QMouseEvent* e) override;
    void mouseDoubleClickEvent(QMouseEvent* e) override;
    void wheelEvent(QWheelEvent* e) override;
    void keyPressEvent(QKeyEvent* e) override;
    void leaveEvent(QEvent*) override;
    void contextMenuEvent(QContextMenuEvent* e) override { e->accept(); }  // its own, on release
    void resizeEvent(QResizeEvent*) override;

  private:
    Desk& desk() override { return *desk_; }
    const Camera& camera() const override { return camera_; }
    QRectF key_bar() const override { return key_; }
    std::vector<Thing> under(QPointF p) const override {
        return sheet_area().contains(p) ? things_at(drawing(), camera_, from_qt(p)) : std::vector<Thing>{};
    }
    bool has_handles() const override;
    bool has_pointer() const override { return underMouse(); }
    void tag(QPainter& p, QPointF at, const QString& text) override;
    void hint_moved() override { Q_EMIT hint_changed(); }
    Hand hand(const QMouseEvent* e) const;
    QRectF sheet_area() const { return QRectF(rect()).adjusted(0, 0, 0, -plan_key_height); }
    QRectF foot() const { return {0.0, height() - plan_key_height, double(width()), plan_key_height}; }
    void let_go();  // of what is dragged
    void show_menu(QPointF at);
    QWidget* switch_;          // of the Weave
    QFrame* scale_ = nullptr;  // where the ends of the map's key are typed
    void follow_hair();

    Desk* desk_;
    Camera camera_;
    bool fitted_ = false;                    // all is shown, and nobody moved or zoomed since
    std::unique_ptr<Tool> tool_, put_away_;  // the last one is kept until its own call has returned
    // One button at a time: what is pressed while another is held is not heard.
    Qt::MouseButton held_ = Qt::NoButton;
    QPointF pressed_;
    bool moved_ = false;
    Camera camera_before_;  // of panning
    QRectF key_;            // the ruler's bar as last drawn
    // What stands on the screen, for painting and for picking; made again when it is asked for after a change.
    const Drawing& drawing() const;
    void renew();
    mutable Drawing drawn_;
    mutable bool is_drawn_ = false;
    // The same as painted, so that the pointer moves over many things as lightly as over few.
    QPixmap sheet_;
    Underlays underlays_;
    bool is_painted_ = false, was_in_step_ = false, was_old_ = false;
};

}  // namespace mossbed
