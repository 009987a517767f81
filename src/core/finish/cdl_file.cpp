#include "core/finish/colour_steps.h"
#include "core/finish/table_check.h"
#include "core/system/atomic_file.h"
#include "core/system/error.h"
#include "core/system/readable_file.h"
#include "core/system/say.h"

#include <OpenColorIO/OpenColorIO.h>
#include <fmt/format.h>

namespace retinex::finish {

namespace ocio = OCIO_NAMESPACE;

Cdl readCdl(const std::filesystem::path& file, const std::string& id)
{
    requireReadable(file);
    checkTable(file); // what is no colour correction is tried as every other format
    try {
        const auto read = ocio::CDLTransform::CreateFromFile(file.c_str(), id.c_str());
        Cdl cdl;
        read->getSlope(cdl.slope.data());
        read->getOffset(cdl.offset.data());
        read->getPower(cdl.power.data());
        cdl.saturation = read->getSat();
        return cdl;
    } catch (const ocio::Exception& cause) {
        throw Error(say("{}: no colour correction can be read from it. Choose a .cc, .ccc or .cdl file.",
                        file.string()),
                    cause.what());
    }
}

namespace {

std::string correction(const Cdl& cdl, const std::string& id, const char* indent)
{
    std::string safe;
    for (const char c : id)
        if (c == '<' || c == '&' || c == '"' || static_cast<unsigned char>(c) < 0x20)
            safe += '_';
        else
            safe += c;
    return fmt::format("{0}<ColorCorrection id=\"{1}\">\n"
                       "{0}  <SOPNode>\n"
                       "{0}    <Slope>{2} {3} {4}</Slope>\n"
                       "{0}    <Offset>{5} {6} {7}</Offset>\n"
                       "{0}    <Power>{8} {9} {10}</Power>\n"
                       "{0}  </SOPNode>\n"
                       "{0}  <SatNode>\n"
                       "{0}    <Saturation>{11}</Saturation>\n"
                       "{0}  </SatNode>\n"
                       "{0}</ColorCorrection>\n",
                       indent, safe, cdl.slope[0], cdl.slope[1], cdl.slope[2], cdl.offset[0], cdl.offset[1],
                       cdl.offset[2], cdl.power[0], cdl.power[1], cdl.power[2], cdl.saturation);
}

} // namespace

void writeCdl(const std::filesystem::path& file, const Cdl& cdl, const std::string& id)
{
    // ASC CDL Transfer Functions and Interchange Syntax 1.2.
    std::string text = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n";
    const std::string ending = file.extension().string();
    if (ending == ".cc")
        text += correction(cdl, id, "");
    else if (ending == ".ccc")
        text += "<ColorCorrectionCollection xmlns=\"urn:ASC:CDL:v1.2\">\n" + correction(cdl, id, "  ") +
                "</ColorCorrectionCollection>\n";
    else if (ending == ".cdl")
        text += "<ColorDecisionList xmlns=\"urn:ASC:CDL:v1.2\">\n  <ColorDecision>\n" +
                correction(cdl, id, "    ") + "  </ColorDecision>\n</ColorDecisionList>\n";
    else
        throw Error(
            say("{}: a colour correction is written as .cc, .ccc or .cdl. Choose one of these endings.",
                file.string()));
    writeFileAtomically(file, text);
}

} // namespace retinex::finish
