// Colours, type and the writing of numbers, for everything that is drawn. No colour is named anywhere else.
#pragma once
#include <QColor>
#include <QFont>
#include <QString>

#include "drawing/drawing.h"

namespace mossbed::look {

inline const QColor sheet{0xF6, 0xF3, 0xEA}, panel{0xEC, 0xE8, 0xDB}, white{0xFF, 0xFF, 0xFF};
inline const QColor ink{0x26, 0x30, 0x2B}, faint{0x5E, 0x65, 0x5B}, line{0xCF, 0xC9, 0xB6}, pale{0xDD, 0xD8, 0xC8};
inline const QColor moss{0x4F, 0x6B, 0x3A}, moss_wash{0xE1, 0xE6, 0xD3}, ochre{0xC2, 0x8A, 0x1E},
    rust{0xA3, 0x41, 0x2A}, water{0x2F, 0x5D, 0x73};
inline const QColor standard{0x8A, 0x8F, 0x83}, edge{0xBD, 0xB8, 0xA4}, ochre_wash{0xF4, 0xE9, 0xD0},
    rust_wash{0xF3, 0xDC, 0xD3};

QColor colour(const Tone& tone);          // of a role on a drawing
QColor colour_at(Scale scale, double t);  // t from 0 to 1
QColor colour_of_use(double use, bool over);
QColor faded(QColor c, int alpha);  // alpha from 0 to 255
QString style_sheet();              // of the window's widgets
QString text_colour(Role role);     // a style sheet's words for one label

// Three sizes of one family (bundled; its plain digits are tabular).
void load_fonts();  // once, after the application object was made
using Size = mossbed::Size;
QFont font(Size size, bool bold = false);

// Numbers as words/quantities.h writes them, with thin spaces between thousands and a true minus.
QString on_screen(const std::string& plain);
QString number(double v, int decimals);
QString quantity(double v, const QString& unit);
QString with_unit(double v, const QString& unit);

}  // namespace mossbed::look
