// What stands in a drawing exchange file (DXF), as text or binary: shapes by layer, blocks put in their places. Knows
// nothing of slabs. Coordinates are the drawing's own.
#pragma once
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/problem.h"

namespace mossbed {

struct DrawnVertex {
    Point at;
    double bulge = 0;  // of the side after it: tan of a quarter of its angle, positive to the left
};
// A path of straight sides and arcs, a circle, or a text.
struct DrawnShape {
    enum Kind : char { path, circle, text };
    Kind kind = path;
    std::string layer;
    int line = 0;  // of the file, of text files; else the number of its record
    std::vector<DrawnVertex> vertices;
    bool is_closed = false;
    double width = 0;                         // that a path is drawn with
    double radius = 0;                        // of a circle about vertices[0]
    std::string words;                        // of a text at vertices[0]
    int insert = -1;                          // shapes of one block put in at one place have one number
    std::map<std::string, std::string> data;  // extended data written by this program, "thickness" → "0.9"
};
struct DrawnLayer {
    std::string name;
    bool is_frozen = false, is_off = false;
    bool is_hidden() const { return is_frozen || is_off; }
};
struct DrawingFile {
    bool is_binary = false;
    int unit = 0;  // $INSUNITS; nought: none
    std::vector<DrawnLayer> layers;
    std::vector<DrawnShape> shapes;                               // of the model space
    std::map<std::pair<std::string, std::string>, int> not_read;  // by layer and kind of entity: how many
    std::map<std::string, std::string> data;                      // of the whole drawing, written by this program
    bool is_cut_off = false;                                      // no end of file
    const DrawnLayer* layer(const std::string& name) const;
};

// Throws Trouble where it is no such file, by name where it is another kind of drawing.
DrawingFile read_drawing(const std::string& bytes);

}  // namespace mossbed
