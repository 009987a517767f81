#pragma once

// What nearly every test of the core reads, compiled once.
#include "core/delivery/deliver.h"
#include "core/frame/depends_on.h"
#include "core/frame/render_frame.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <QDir>
#include <QFile>
#include <QTest>
#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
