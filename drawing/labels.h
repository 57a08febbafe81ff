// Places for words on a drawing where nothing else is written yet.
#pragma once
#include <initializer_list>

#include "drawing/drawing.h"

namespace mossbed {

class Labels {
  public:
    Labels(Drawing& drawing, const View& view, const Box& paper) : drawing_(drawing), view_(view), paper_(paper) {}
    // Writes the text at the first offset where it covers no other and stays on the paper; at the first one that stays
    // on it when all are taken.
    // Returns the offset.
    Point write(Layer layer, Text text, const std::vector<Point>& offsets);
    // Likewise, but centred at each offset, and left out when no place is free.
    void write_if_free(Layer layer, Text text, const std::vector<Point>& offsets);
    void keep_clear(const Box& paper) { taken_.push_back(paper); }
    bool is_free(const Box& paper) const;
    Box box_of(const Text& text) const;  // on the paper, about
    bool is_on_paper(const Box& paper) const;

  private:
    Drawing& drawing_;
    View view_;
    Box paper_;
    std::vector<Box> taken_;
};

}  // namespace mossbed
