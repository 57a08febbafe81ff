// How tables look that are only read.
#pragma once
#include <QHeaderView>
#include <QTableView>

#include "draw/look.h"

namespace mossbed {

inline void make_read_only(QTableView& t) {
    t.setFrameShape(QFrame::NoFrame);
    t.setFont(look::font(look::Size::small));
    t.setSelectionBehavior(QAbstractItemView::SelectRows);
    t.setEditTriggers(QAbstractItemView::NoEditTriggers);
    t.setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    t.setShowGrid(false);
    t.setCornerButtonEnabled(false);
    t.verticalHeader()->hide();
    t.verticalHeader()->setDefaultSectionSize(22);
    t.verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    t.horizontalHeader()->setHighlightSections(false);
    t.horizontalHeader()->setFont(look::font(look::Size::small));
    t.horizontalHeader()->setStretchLastSection(true);
}

}  // namespace mossbed
