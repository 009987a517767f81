#pragma once

// What every test of the window includes; compiled once.
#include "app/window/main_window.h"

#include <QApplication>
#include <QFileDialog>
#include <QTest>
