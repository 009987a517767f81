#include "core/project/settings/delivery_settings.h"

#include "core/project/settings/fields.h"

namespace retinex::project {

#define RETINEX_DELIVERY(member) RETINEX_MEMBER(Delivery, member)
#define RETINEX_DELIVERY_TEXT(member) RETINEX_TEXT(Delivery, member)

const Description<Delivery>& deliverySettings()
{
    static const Description<Delivery> description(std::vector<Field<Delivery>>{
        textField<Delivery>("name", "name", Kind::text, RETINEX_DELIVERY_TEXT(name))
            .says("By which it is asked for"),
        switchField<Delivery>("on", "on", RETINEX_DELIVERY(isOn)).says("Whether it is made with the others"),
        textField<Delivery>("what", "what", Kind::text, RETINEX_DELIVERY_TEXT(what))
            .says("finished, unfinished, source, distance, coc, depthmap or areas; several as layers of one "
                  "EXR"),
        wordField<Delivery>("file", "file", wordsOf<FileKind>(), RETINEX_DELIVERY(file))
            .says("The last four are movies"),
        wordField<Delivery>("samples", "samples", wordsOf<Samples>(), RETINEX_DELIVERY(samples))
            .says("What the format does not take becomes the next it does"),
        wordField<Delivery>("compression", "compression", wordsOf<Compression>(),
                            RETINEX_DELIVERY(compression))
            .says("Of EXR"),
        numberField<Delivery>("level", "level", Kind::plain, {0.0, 500.0}, RETINEX_DELIVERY(level))
            .says("Of ZIP 1 to 9, of DWAA its loss"),
        textField<Delivery>("colourSpace", "colour space", Kind::text, RETINEX_DELIVERY_TEXT(colourSpace))
            .says("\"view NAME\" for a view; \"\" scene-linear, or that of pictures for a screen"),
        wordField<Delivery>("size", "size", wordsOf<DeliveredSize>(), RETINEX_DELIVERY(size))
            .says("Of the pictures"),
        numberField<Delivery>("widthPx", "width", Kind::pixels, {2.0, 1e5}, RETINEX_DELIVERY(widthPx))
            .says("For the size width"),
        switchField<Delivery>("keepsOverscan", "overscan kept", RETINEX_DELIVERY(keepsOverscan))
            .says("What the files hold beyond the frame, in EXR"),
        switchField<Delivery>("bothEyes", "both eyes", RETINEX_DELIVERY(bothEyes))
            .says("Of a stereo render, with {eye} in the file name"),
        textField<Delivery>("frames", "frames", Kind::text, RETINEX_DELIVERY_TEXT(frames))
            .says("1-24,30,40-48x2, shot NAME, in-out or marks; \"\" all"),
        textField<Delivery>("fileName", "file name", Kind::text, RETINEX_DELIVERY_TEXT(fileName))
            .says("With {project}, {shot}, {delivery}, {eye}, {frame:4} and {date}; without its ending"),
        textField<Delivery>("folder", "folder", Kind::text, RETINEX_DELIVERY_TEXT(folder))
            .says("From the project's on; \"\" is PROJECT-NAME beside it"),
        numberField<Delivery>("framesPerSecond", "rate", Kind::plain, {0.0, 1000.0},
                              RETINEX_DELIVERY(framesPerSecond))
            .says("Of a movie; 0: as it is played"),
        switchField<Delivery>("burnsIn", "burn-in", RETINEX_DELIVERY(burnsIn))
            .says("Frame, shot, focus distance and f-stop in the picture"),
        switchField<Delivery>("nearIsBright", "near is bright", RETINEX_DELIVERY(nearIsBright))
            .says("Of a depth map"),
        wordField<Delivery>("spacing", "spacing", wordsOf<MapSpacing>(), RETINEX_DELIVERY(spacing))
            .says("What a depth map is even in"),
        numberField<Delivery>("mapNearest", "nearest", Kind::length, {0.0, 1e12},
                              RETINEX_DELIVERY(mapNearest))
            .says("Of a depth map; 0: as found"),
        numberField<Delivery>("mapFarthest", "farthest", Kind::length, {0.0, 1e12},
                              RETINEX_DELIVERY(mapFarthest))
            .says("Likewise"),
    });
    return description;
}
#undef RETINEX_DELIVERY
#undef RETINEX_DELIVERY_TEXT

} // namespace retinex::project
