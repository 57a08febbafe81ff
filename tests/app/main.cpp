#include <gtest/gtest.h>

#include <QApplication>
#include <QStandardPaths>

#include "draw/look.h"

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    QApplication app(argc, argv);
    QStandardPaths::setTestModeEnabled(true);
    QApplication::setStyle("Fusion");
    mossbed::look::load_fonts();
    return RUN_ALL_TESTS();
}
