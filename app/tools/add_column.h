// Puts a column where the hand clicks, like the last one.
#pragma once
#include "app/tools/tool.h"

namespace mossbed {

class AddColumnTool : public Tool {
  public:
    using Tool::Tool;
    ToolKind kind() const override { return ToolKind::add_column; }
    QString hint() const override { return "Click where the column stands · Esc leaves"; }
    void hover(const Hand& h) override;
    void press(const Hand& h) override;
    bool put_down() override;
    void draw(QPainter& p) const override;

  private:
    Column next(Point at) const;
    Hand hand_;
    QString note_;
};

}  // namespace mossbed
