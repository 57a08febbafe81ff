// Chooses by click, Shift and rubber band, and drags what it takes hold of.
#pragma once
#include "app/tools/grips.h"

namespace mossbed {

class ChooseTool : public Tool {
  public:
    using Tool::Tool;
    ToolKind kind() const override { return ToolKind::choose; }
    QString hint() const override;
    QCursor cursor() const override;
    void hover(const Hand& h) override;
    void press(const Hand& h) override;
    void drag(const Hand& h) override;
    void release(const Hand& h, bool dragged) override;
    bool double_click(const Hand& h) override;
    bool key(QKeyEvent* e) override;
    bool put_down() override;
    void draw(QPainter& p) const override;

  private:
    std::unique_ptr<Grip> hover_, held_;
    Hand hand_, pressed_;
};

}  // namespace mossbed
