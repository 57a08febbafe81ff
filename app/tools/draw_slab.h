// Draws the slab's outline corner by corner, by clicks, typed lengths towards the pointer or typed "x, y".
#pragma once
#include "app/tools/tool.h"

namespace mossbed {

class DrawSlabTool : public Tool {
  public:
    using Tool::Tool;
    ToolKind kind() const override { return ToolKind::draw_slab; }
    QString hint() const override;
    void hover(const Hand& h) override;
    void press(const Hand& h) override;
    bool double_click(const Hand& h) override;
    bool key(QKeyEvent* e) override;
    bool put_down() override;
    void draw(QPainter& p) const override;

  private:
    Snap snap(Point p) const { return snap_to(bench_.desk().now(), bench_.camera(), p, {}, corners_); }
    void place(Point p);
    void place_typed();
    void close();
    Polygon corners_;  // set so far
    QString typed_, note_;
    Hand hand_;
};

}  // namespace mossbed
