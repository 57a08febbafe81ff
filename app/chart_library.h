// QCustomPlot. Its header wants Qt's keywords, which nothing else here uses.
#pragma once
#pragma push_macro("signals")
#pragma push_macro("slots")
#pragma push_macro("foreach")
#pragma push_macro("emit")
#define signals Q_SIGNALS
#define slots Q_SLOTS
#define foreach Q_FOREACH
#define emit
#include <qcustomplot.h>
#pragma pop_macro("signals")
#pragma pop_macro("slots")
#pragma pop_macro("foreach")
#pragma pop_macro("emit")
