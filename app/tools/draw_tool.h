// Draws one kind of thing: points set by clicks, typed lengths, angles and coordinates. While a figure is under way the
// model with it follows the hand, so that the answer does too; what it comes to is one step of undo.
#pragma once
#include "app/tools/tool.h"

namespace mossbed {

class DrawTool : public Tool {
  public:
    DrawTool(ToolBench& bench, ToolKind kind);
    ToolKind kind() const override { return kind_; }
    QString hint() const override;
    void hover(const Hand& h) override;
    void press(const Hand& h) override;
    bool double_click(const Hand& h) override;
    bool key(QKeyEvent* e) override;
    bool put_down() override;
    void let_go() override;
    void draw(QPainter& p) const override;

  private:
    Snap snapped() const;
    void place(Point p);
    void place_typed();
    void finish();
    void end_by_hand();  // of a path or corners
    bool is_on_a_point(Point p, size_t i) const;
    void follow();  // the model with the figure as it would be here
    std::string make(Model& m, const Figure& f, Thing* made) const;
    QString note() const;
    void draw_true_size(QPainter& p, const Figure& f) const;
    void say_why_not(const std::string& why);

    ToolKind kind_;
    FigureDraft draft_;
    QString typed_;
    Hand hand_;
    bool has_hand_ = false;  // it was over the plan
};

}  // namespace mossbed
