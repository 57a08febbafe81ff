// What can be taken hold of with the choosing hand: each says what it is and what a drag does.
#pragma once
#include "app/tools/tool.h"

namespace mossbed {

class Grip {
  public:
    virtual ~Grip() = default;
    virtual QString hint() const = 0;  // while hovered
    virtual QCursor cursor() const { return Qt::OpenHandCursor; }
    virtual void begin(const Hand&) {}  // pressed
    virtual void drag(const Hand& from, const Hand& to) = 0;
    virtual void drop() {}              // after a drag: one step of undo
    virtual void click(const Hand&) {}  // released without a drag
    virtual void draw_hover(QPainter&) const {}
    virtual bool is_nothing() const { return false; }  // only the sheet is under the pointer
    virtual void draw(QPainter&) const {}              // while dragged
    virtual bool is_same(const Grip& other) const = 0;
    QString note;  // beside the pointer
};

// The grip under the pointer; where there is nothing, a rubber band.
std::unique_ptr<Grip> grip_at(ToolBench& bench, QPointF at);

// Of what is chosen what a hand can move: boreholes stay where they were sunk.
Things movable(Things chosen);

}  // namespace mossbed
