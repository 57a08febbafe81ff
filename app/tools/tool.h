// What the hand holds over the plan. A tool owns its hint, cursor, preview, typed input and keys; the plan only hands
// it what the mouse and the keyboard do, and pans and zooms by itself.
#pragma once
#include <QCursor>
#include <QKeyEvent>
#include <QPainter>
#include <memory>

#include "app/desk.h"
#include "app/tools/tool_kind.h"
#include "draw/camera.h"
#include "draw/look.h"
#include "drawing/plan.h"
#include "drawing/snap.h"

namespace mossbed {

struct Hand {  // where the pointer is
    QPointF at;
    Point in_plan;
    bool free = false;    // Alt: nothing is snapped to
    bool adding = false;  // Shift
};

// What the plan does for tools.
class ToolBench {
  public:
    virtual ~ToolBench() = default;
    virtual Desk& desk() = 0;
    virtual const Camera& camera() const = 0;
    virtual QRectF key_bar() const = 0;                      // of the ruler as last drawn
    virtual std::vector<Thing> under(QPointF at) const = 0;  // what is drawn there, the topmost first
    virtual bool has_handles() const = 0;                    // corners and sides of the outline can be dragged
    virtual bool has_pointer() const = 0;                    // the mouse is over the plan
    virtual QString reading() const = 0;                     // of the map under the pointer
    virtual void tag(QPainter& p, QPointF at, const QString& text) = 0;  // beside the pointer
    virtual void take(ToolKind kind) = 0;
    virtual void hint_moved() = 0;
};

class Tool {
  public:
    explicit Tool(ToolBench& bench) : bench_(bench) {}
    virtual ~Tool() = default;
    virtual ToolKind kind() const = 0;
    virtual QString hint() const = 0;
    virtual QCursor cursor() const { return Qt::CrossCursor; }
    virtual void hover(const Hand&) {}  // no button held
    virtual void press(const Hand&) {}
    virtual void drag(const Hand&) {}  // held and moved
    virtual void release(const Hand&, bool dragged) {}
    virtual bool double_click(const Hand&) { return false; }  // true: taken
    virtual bool key(QKeyEvent*) { return false; }            // true: taken
    virtual bool put_down() { return false; }                 // Escape: true when something was let go of
    virtual void let_go() {}                                  // the model changes by another way while it is in hand
    virtual void draw(QPainter&) const {}                     // what a click would do

  protected:
    Desk& desk() const { return bench_.desk(); }
    ToolBench& bench_;
};

struct ToolEntry {  // of the bar over the plan and of the menu
    ToolKind kind;
    const char* key;    // of the buttons' and actions' names
    const char* title;  // on its button
    const char* deed;   // in the menu, and the heading of its page
    const char* shortcut;
};
const std::vector<ToolEntry>& tools();
const ToolEntry& entry_of(ToolKind kind);
bool is_offered(ToolKind kind, Stop stop);  // on the bar; the menu has all
std::unique_ptr<Tool> make_tool(ToolKind kind, ToolBench& bench);

QString metres(double v);
QString coordinates(const Snap& s);                                         // with what it snapped to
void write_length(QPainter& p, QPointF a, QPointF b, const QString& text);  // beside the middle of a line

}  // namespace mossbed
