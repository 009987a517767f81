#include "core/finish/step.h"
#include "core/frame/depends_on.h"
#include "core/project/file/json_reader.h"
#include "core/project/settings/fields.h"
#include "core/project/settings/project_settings.h"
#include "core/project/shots.h"
#include "core/system/error.h"
#include "support/test_files.h"

#include <QTest>
#include <set>

using namespace retinex;
using namespace retinex::project;

namespace {

/// What the next lists will be like: members with settings of their own.
struct Glow
{
    std::string id;
    double amount = 0.5;
    bool on = true;
    std::string unknown{};
    friend bool operator==(const Glow&, const Glow&) = default;
};
struct Finish
{
    double exposure = 0.0;
    std::vector<Glow> glows;
    friend bool operator==(const Finish&, const Finish&) = default;
};

const Description<Glow>& glowSettings()
{
    static const Description<Glow> description(std::vector<Field<Glow>>{
        numberField<Glow>("amount", "amount of glow", Kind::share, {0.0, 1.0}, RETINEX_MEMBER(Glow, amount))
            .marks(timeline::Blend::plain),
        switchField<Glow>("on", "glow", RETINEX_MEMBER(Glow, on))});
    return description;
}

const Description<Finish>& finishSettings()
{
    static const Description<Finish> description = [] {
        Description<Finish> made(std::vector<Field<Finish>>{numberField<Finish>(
            "exposure", "exposure", Kind::stops, {-10.0, 10.0}, RETINEX_MEMBER(Finish, exposure))});
        made.list("glows", &Finish::glows, glowSettings());
        return made;
    }();
    return description;
}

} // namespace

class TestSettings : public QObject
{
    Q_OBJECT

private slots:
    void everyPathTitleAndOptionIsThereOnce()
    {
        std::set<std::string> paths;
        std::set<std::string> options;
        for (const auto& field : shotSettings().fields()) {
            QVERIFY2(paths.insert(field.path).second, field.path.c_str());
            QVERIFY2(!field.title.empty() && !field.help.empty(), field.path.c_str());
            if (!field.option.empty()) QVERIFY2(options.insert(field.option).second, field.option.c_str());
        }
        for (const auto& field : projectSettings().fields())
            QVERIFY2(paths.insert(field.path).second && !field.help.empty(), field.path.c_str());
    }

    // The order of lists on screen: as the sheet has them.
    void descriptionsAreInWorkingOrder()
    {
        const auto& all = shotSettings();
        QVERIFY(all.order(setting::focusDistance) < all.order(setting::fStop));
        QVERIFY(all.order(setting::fStop) < all.order(setting::blades));
        QVERIFY(all.order(setting::blades) < all.order(setting::glintLift));
        QVERIFY(all.order(setting::glintLift) < all.order("glows/a/amount"));
        QCOMPARE(all.order("no/such"), all.fields().size());
    }

    void defaultsFitAndTheEngineTakesBothEnds()
    {
        const Settings usual;
        checkRanges(usual);
        for (const auto& field : shotSettings().fields()) {
            if (!field.isNumber()) continue;
            QVERIFY2(field.range.contains(field.defaultValue()), field.path.c_str());
            if (field.group == Group::reading || field.isThere) continue; // their ends hang together
            for (const double end : {field.range.minimum, field.range.maximum}) {
                Project project;
                project.base().focalLengthMm = 1.0;
                if (field.path != setting::focusDistance) field.set(project.base(), end);
                if (field.path == setting::focalLength) project.base().focusDistance = 10.0;
                try {
                    project.lensSettingsAt(1).check();
                } catch (const Error& error) {
                    QFAIL(error.what());
                }
            }
        }
    }

    void aValueOutOfRangeIsNamedWithWhatFits()
    {
        Settings settings;
        settings.glint.liftStops = 17.0;
        try {
            checkRanges(settings);
            QFAIL("nothing was said");
        } catch (const Error& error) {
            QCOMPARE(QString(error.what()), "The glint lift is 17 and must be 0 to 16.");
        }
    }

    void whatIsHeldIsWholeAndInRange()
    {
        QCOMPARE(infoOf(setting::blades)->held(6.6), 7.0);
        QCOMPARE(infoOf(setting::blades)->held(40.0), 16.0);
        QCOMPARE(infoOf(setting::fStop)->held(0.0), 0.1);
        QVERIFY_EXCEPTION_THROWN((void)infoOf("lens/zoom"), Error);
    }

    // The tables in the documentation are those of the descriptions.
    void theDocumentedTableIsThatOfTheDescriptions()
    {
        const QByteArray document = test::bytesOf(RETINEX_DOCS "/project-file.md");
        const std::string table = settingsTable();
        if (!document.contains(QByteArray::fromStdString(table))) qInfo("%s", table.c_str());
        QVERIFY2(document.contains(QByteArray::fromStdString(table)),
                 "docs/project-file.md must hold the table printed above");
    }

    void membersOfAListAreSettingsLikeOthers()
    {
        Finish finish;
        finish.glows = {{"wide", 0.25, true}, {"tight", 0.75, false}};
        const auto field = finishSettings().find("glows/tight/amount");
        QVERIFY(field);
        QCOMPARE(field->get(finish), 0.75);
        field->set(finish, 0.125);
        QCOMPARE(finish.glows[1].amount, 0.125);
        QVERIFY(field->mayHaveMarks() && field->range.contains(1.0) && !field->range.contains(1.1));
        std::swap(finish.glows[0], finish.glows[1]); // found by its id, wherever it stands
        QCOMPARE(field->get(finish), 0.125);
        finish.glows.erase(finish.glows.begin());
        field->set(finish, 0.9);
        QCOMPARE(field->get(finish), 0.5); // gone: what is usual
        QVERIFY(!finishSettings().find("glows/wide/colour") && !finishSettings().find("glows/wide"));
        QCOMPARE(finishSettings().allOf(finish).size(), std::size_t(1 + 2));
    }

    void membersAreWrittenAndReadWithWhatIsUnknown()
    {
        Finish finish{1.5, {{"wide", 0.25, true, R"({"tint":"red"})"}, {"tight", 0.75, false}}};
        Json json = Json::object();
        writeDescribed("p.retinex", finishSettings(), finish, json);
        QCOMPARE(QString::fromStdString(json.dump()),
                 R"({"exposure":1.5,"glows":[{"id":"wide","amount":0.25,"on":true,"tint":"red"},)"
                 R"({"id":"tight","amount":0.75,"on":false}]})");
        Finish read;
        const fs::path file = "p.retinex";
        std::vector<std::string> putRight;
        readDescribed(Reader(file, json, putRight), finishSettings(), read);
        QVERIFY(putRight.empty());
        QVERIFY(read == finish);
        const auto refusal = [&](const char* text) {
            const Json wrong = Json::parse(text);
            Finish target;
            std::vector<std::string> notes;
            try {
                readDescribed(Reader(file, wrong, notes), finishSettings(), target);
                if (!notes.empty()) return QString::fromStdString(notes.front());
            } catch (const Error& error) {
                return QString(error.what());
            }
            return QString();
        };
        QVERIFY(refusal(R"({"glows": [{"id": "a", "amount": 2}]})")
                    .contains("/glows/0/amount (amount of glow) is 2"));
        QVERIFY(refusal(R"({"glows": [{"id": "a"}, {"id": "a"}]})").contains("/glows/1/id"));
        QVERIFY(refusal(R"({"glows": [{"amount": 1}]})").contains("/glows/0/id"));
        QVERIFY(refusal(R"({"glows": {}})").contains("/glows is not a list"));
    }

    void settingsAreCopiedByGroupWithTheirMarks()
    {
        Project project;
        project.lastFrame = 40;
        project.shots = {Shot{"a", 1}, Shot{"b", 21}};
        Settings& from = project.shots[0].settings;
        from.fStop = 1.4;
        from.framing = optics::Framing::physical;
        from.blur.heldFar = 3.0;
        from.iris.blades = 6;
        from.reading.conditioning.remap = {{1.0, 1.0}, {2.0, 1.5}};
        project.shots[0].tracks[setting::fStop] = {{2, 1.4}, {10, 4.0}};
        project.shots[1].tracks[setting::strength] = {{25, 0.5}};
        project.shots[1].tracks[setting::turn] = {{25, 5.0}};
        copySettings(project, 0, 1, {Group::lens});
        const Shot& to = project.shots[1];
        QCOMPARE(to.settings.fStop, 1.4);
        QCOMPARE(to.settings.framing, optics::Framing::physical);
        QCOMPARE(to.settings.blur.heldFar, 0.0); // of the focus
        QCOMPARE(to.settings.iris.blades, 0);
        QCOMPARE(to.marks(setting::fStop).front().frame, 22);
        QVERIFY(to.marks(setting::strength).empty()); // of the lens, and without marks in the other shot
        QVERIFY(!to.marks(setting::turn).empty());
        copySettings(project, 0, 1, {Group::reading});
        QCOMPARE(project.shots[1].settings.reading.conditioning.remap.size(), std::size_t(2));
    }

    // A stage's fingerprint has its own settings and those of the stages before, and no others.
    void fingerprintsHaveTheSettingsOfTheirStage()
    {
        Project usual;
        usual.base().reading.clamp = true; // else no distance depends on the ends
        inserts::Insert backdrop;          // else nothing is seen where the scene is open
        backdrop.id = "1";
        backdrop.content = inserts::Content::colour;
        backdrop.placing = inserts::Placing::backdrop;
        usual.base().inserts = {backdrop};
        usual.base().finish.grain.amount = 0.1; // else there is no finish
        passes::PassOptions empty;
        empty.emptyWidth = empty.emptyHeight = 8;
        const passes::PassSource source({}, {}, empty);
        const auto upTo = [&](Stage last, const Project& project) {
            return frame::fingerprint(source, project, 1, last);
        };
        for (const auto& field : shotSettings().fields()) {
            if (!field.isNumber() || field.isThere) continue;
            Project changed = usual;
            const double was = field.get(changed.base());
            const double other = field.kind == Kind::onOff || field.kind == Kind::word
                                     ? (was == 0.0 ? 1.0 : 0.0)
                                 : std::isinf(was)                  ? 5.0
                                 : field.kind == Kind::blades       ? 5.0
                                 : field.range.contains(was + 0.25) ? was + (field.isWhole() ? 1 : 0.25)
                                                                    : was - 0.25;
            field.set(changed.base(), other);
            const bool readsOtherwise = upTo(Stage::distances, changed) != upTo(Stage::distances, usual);
            const bool looksOtherwise = upTo(Stage::finish, changed) != upTo(Stage::finish, usual);
            QVERIFY2(readsOtherwise == (field.stage == Stage::distances), field.path.c_str());
            QVERIFY2(looksOtherwise == (field.stage != Stage::none), field.path.c_str());
        }
        Project other = usual;
        other.passOptions.missing = passes::MissingFrames::black;
        QVERIFY(upTo(Stage::passes, other) != upTo(Stage::passes, usual));
        other = usual;
        other.unit = optics::Unit::foot; // how distances are shown is nobody's picture
        QCOMPARE(upTo(Stage::finish, other), upTo(Stage::finish, usual));
        other.unknown = "{\"x\":1}";
        QCOMPARE(upTo(Stage::finish, other), upTo(Stage::finish, usual));
    }

    // A step of the finish is listed once: its rows, its switch and its place in a copy follow from its
    // fields.
    void everyStepOfTheFinishHasASwitchAndRows()
    {
        std::set<std::string> keys;
        for (const finish::Step* step : finish::allSteps()) {
            const std::string prefix = "finish/" + std::string(step->key) + '/';
            QVERIFY2(keys.insert(prefix).second, prefix.c_str());
            QVERIFY(!step->title.empty() && !step->help.empty());
            const auto isOn = shotSettings().find(prefix + "on");
            QVERIFY2(isOn && isOn->kind == Kind::onOff, prefix.c_str());
            QVERIFY(!step->isUsed({})); // as it comes it changes nothing
        }
        for (const auto& field : shotSettings().fields()) {
            if (!field.path.starts_with("finish/")) continue;
            QVERIFY2(field.group == Group::finish && field.stage == Stage::finish, field.path.c_str());
            const std::size_t slash = field.path.find('/', 7);
            if (slash != std::string::npos)
                QVERIFY2(keys.contains(field.path.substr(0, slash + 1)), field.path.c_str());
            if (field.kind != Kind::pairs) // curves are drawn
                QVERIFY2(!field.label.empty(), field.path.c_str());
            QVERIFY2(field.saidChoices.empty() || field.saidChoices.size() == field.choices.size(),
                     field.path.c_str());
        }
        // Those that need more than the pixel itself come first.
        bool isPixelwise = false;
        for (const finish::Step* step : finish::allSteps()) {
            QVERIFY2(!isPixelwise || !step->needs, step->key.data());
            isPixelwise = isPixelwise || !step->needs;
        }
    }

    void namesThatATextMayBeAreThere()
    {
        int listed = 0;
        for (const auto& field : shotSettings().fields())
            if (field.names) {
                ++listed;
                QVERIFY2(!field.isNumber() && !field.names().empty(), field.path.c_str());
            }
        QVERIFY(listed >= 1);
    }
};

QTEST_GUILESS_MAIN(TestSettings)
#include "test_settings.moc"
