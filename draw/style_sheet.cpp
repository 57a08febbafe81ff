// The widgets' style, its colours by name.
#include "draw/look.h"

namespace mossbed::look {

QString style_sheet() {
    QString text = R"(
QMainWindow, QMenuBar { background: $sheet$; color: $ink$; }
QMenuBar::item:selected, QMenu::item:selected { background: $chosen$; color: $ink$; }
QMenu { background: $sheet$; color: $ink$; border: 1px solid $line$; }
QWidget#tray-body, QWidget#side, QScrollArea#tray, QListView#ledger { background: $panel$; color: $ink$; }
QLabel { color: $ink$; background: transparent; }
QLabel[faint="true"] { color: $faint$; }
QLabel[fault="true"] { color: $rust$; }
QLabel[fault-note="true"] { color: $rust$; background: $rust-wash$; border: 1px solid $rust$; border-radius: 2px; padding: 3px 6px; }
QLineEdit, QComboBox { background: $white$; color: $ink$; border: 1px solid $line$; border-radius: 2px; padding: 2px 5px; min-height: 17px; selection-background-color: $moss$; }
QLineEdit:focus, QComboBox:focus { border: 1px solid $moss$; }
QLineEdit[standard="true"] { color: $standard$; }
QLineEdit[cell="true"] { border: 1px solid $moss$; border-radius: 0; padding: 0 3px; min-height: 0; }
QComboBox QAbstractItemView { background: $white$; color: $ink$; selection-background-color: $chosen$; selection-color: $ink$; }
QPushButton, QToolButton { background: $sheet$; color: $ink$; border: 1px solid $edge$; border-radius: 2px; padding: 3px 9px; }
QPushButton:hover, QToolButton:hover { background: $white$; }
QPushButton:focus { border: 1px solid $moss$; }
QPushButton:checked, QToolButton:checked { background: $chosen$; border: 1px solid $moss$; }
QToolButton[quiet="true"] { background: transparent; border: none; color: $faint$; padding: 2px 7px; }
QToolButton[quiet="true"]:hover { background: $white$; color: $ink$; } QToolButton[quiet="true"]:checked { background: $chosen$; color: $ink$; }
QToolButton[quiet="true"]:focus { border: 1px solid $moss$; padding: 1px 6px; }
QCheckBox { color: $ink$; }
QTableView { background: $sheet$; color: $ink$; gridline-color: $pale$; selection-background-color: $chosen$; selection-color: $ink$; }
QHeaderView { background: $panel$; } QHeaderView::section { background: $panel$; color: $faint$; border: none; padding: 2px 4px; }
QSplitter::handle { background: $line$; }
QSplitter::handle:horizontal { width: 1px; } QSplitter::handle:vertical { height: 1px; }
QScrollBar:vertical { background: $panel$; width: 9px; } QScrollBar::handle:vertical { background: $edge$; min-height: 24px; border-radius: 4px; }
QScrollBar:horizontal { background: $panel$; height: 9px; } QScrollBar::handle:horizontal { background: $edge$; min-width: 24px; border-radius: 4px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QFrame#offer { background: $chosen$; border: 1px solid $moss$; border-radius: 2px; }
QFrame#strip { background: $ochre-wash$; border: 1px solid $ochre$; border-radius: 2px; } QFrame#strip[bad="true"] { background: $rust-wash$; border: 1px solid $rust$; }
QFrame#working, QFrame#keys-page, QFrame#key-scale { background: $sheet$; border: 1px solid $faint$; }
QToolTip { background: $sheet$; color: $ink$; border: 1px solid $faint$; }
)";
    for (const auto& [name, colour] : {std::pair{"sheet", sheet},
                                       {"ink", ink},
                                       {"chosen", moss_wash},
                                       {"line", line},
                                       {"panel", panel},
                                       {"faint", faint},
                                       {"rust", rust},
                                       {"white", white},
                                       {"moss", moss},
                                       {"standard", standard},
                                       {"edge", edge},
                                       {"pale", pale},
                                       {"ochre-wash", ochre_wash},
                                       {"ochre", ochre},
                                       {"rust-wash", rust_wash}})
        text.replace("$" + QString(name) + "$", colour.name());
    return text;
}

}  // namespace mossbed::look
