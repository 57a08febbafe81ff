// What charts share: words and lines in paper units for bare_paper(), y running down.
#pragma once
#include "drawing/drawing.h"

namespace mossbed {

struct PaperDraft {
    Drawing drawing;
    void write(double x, double y, std::string text, Tone tone, Align align, bool bold = false) {
        Text t;
        t.at = on_bare_paper(x, y), t.text = std::move(text), t.tone = tone, t.align = align, t.bold = bold;
        t.halo = true;
        drawing.add(Layer::notes, std::move(t));
    }
    void line(Layer layer, double xa, double ya, double xb, double yb, Stroke stroke) {
        drawing.add(layer, open({on_bare_paper(xa, ya), on_bare_paper(xb, yb)}, stroke));
    }
};

}  // namespace mossbed
