// Precompiled for the document: what most of its files include, none of it ours.
#include "retinex_core_headers.h"

#include <nlohmann/json.hpp>
