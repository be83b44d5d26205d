#include "commands.h"

#include <CLI/CLI.hpp>

#include <iostream>

int main(int argc, char** argv)
{
    using namespace wendrix::cli;
    CLI::App app{"Wendrix without a window: JSON on standard output, messages on standard error."};
    app.require_subcommand(1);
    app.set_version_flag("--version", "wendrix-cli " WENDRIX_VERSION, "the version, and nothing else");
    int code = kDone;

    std::string first, second, third, obj, version, base;
    bool noGeometry = false;
    double tolerance = 0.001;

    CLI::App* inspectCall = app.add_subcommand("inspect", "What an IFC file holds");
    inspectCall->add_option("FILE", first, "the IFC file")->required();
    inspectCall->add_flag("--no-geometry", noGeometry, "do not build the bodies: volumes, areas and bounds stay null");
    std::string guid;
    inspectCall->add_option("--properties", guid, "everything about the one element with this GlobalId");
    inspectCall->callback([&] { code = guid.empty() ? inspect(first, !noGeometry) : inspectProperties(first, guid); });

    CLI::App* meshCall = app.add_subcommand("mesh", "One OBJ object per element");
    meshCall->add_option("FILE", first, "the IFC file")->required();
    meshCall->add_option("--obj", obj, "the OBJ file to write")->required();
    meshCall->callback([&] { code = mesh(first, obj); });

    AlignCall alignCall;
    CLI::App* aligning =
        app.add_subcommand("align", "The fit of a file onto a reference, or why it does not stand right");
    aligning->add_option("REFERENCE", alignCall.reference, "the IFC file that stands right")->required();
    aligning->add_option("MOVING", alignCall.moving, "the IFC file to fit onto it")->required();
    CLI::Option* byMethod =
        aligning
            ->add_option(
                "--method", alignCall.method,
                "by what: georeference, what both declare; grids, axes of the same name; pattern, the spacing of "
                "axes; storeys, the height alone; points, picked places; values, numbers")
            ->check(CLI::IsMember({"georeference", "grids", "pattern", "storeys", "points", "values"}));
    aligning->add_option(
        "--points", alignCall.points,
        "for --method points: a JSON file of [{\"moving\": [x,y,z], \"reference\": [x,y,z], \"weight\": 1}]");
    aligning->add_option("--values", alignCall.values,
                         "for --method values: TX,TY,TZ,DEGREES,SCALE, metres and counter-clockwise degrees");
    aligning->add_flag("--allow-scale", alignCall.isScaleFree, "for --method points: find the scale too");
    aligning->add_option("--write", alignCall.target, "write the moving file with the fit in it to this file");
    aligning->add_flag("--diagnose", alignCall.isDiagnosis, "say why the two do not meet")->excludes(byMethod);
    aligning->add_option("--previous", alignCall.previous, "for --diagnose: the revision before of the moving file");
    aligning->callback([&] { code = align(alignCall); });

    ClashCall clashCall;
    CLI::App* clashing = app.add_subcommand("clash", "Elements of one file that share space with another's");
    clashing->add_option("PROJECT", clashCall.project, "a project folder: its tests, in fitted places");
    clashing->add_option("--test", clashCall.test, "only this test of the project");
    clashing->add_option("--left", clashCall.left, "the IFC file whose elements are tested");
    clashing->add_option("--right", clashCall.right, "the IFC file they are tested against");
    clashing
        ->add_option("--kind", clashCall.kind,
                     "what is looked for: hard, elements that share space; clearance, that are too near; duplicate, "
                     "that are the same thing twice")
        ->check(CLI::IsMember({"hard", "clearance", "duplicate"}));
    clashing->add_option("--tolerance", clashCall.toleranceMetres, "metres of depth up to which a pair is none")
        ->check(CLI::NonNegativeNumber);
    clashing
        ->add_option("--joint", clashCall.jointMetres,
                     "metres that pieces of one system may reach into each other at an end")
        ->check(CLI::NonNegativeNumber);
    clashing->add_option("--clearance", clashCall.clearanceMetres, "metres of free distance that are wanted")
        ->check(CLI::NonNegativeNumber);
    clashing
        ->add_option("--direction", clashCall.direction,
                     "where it is wanted, seen from the left element: any, up, down or side")
        ->check(CLI::IsMember({"any", "up", "down", "side"}));
    clashing->add_option("--ignore", clashCall.ignored,
                         "expected meetings that are left out, with commas between: openings, connected, assembly, "
                         "covering, hosted; or none. Without it all are");
    clashing->add_option("--left-filter", clashCall.leftFilter,
                         "which elements of the left file: a rule such as 'class is Wall and storey is \"Level 2\"'");
    clashing->add_option("--right-filter", clashCall.rightFilter, "which elements of the right file");
    clashing->add_flag("--volumes", clashCall.withVolumes, "say the volume that both share");
    clashing->add_option("--fail-on", clashCall.failOn,
                         "a rule that ends with exit code 1 where it holds: clashes, undecided or notTested with a "
                         "comparison, such as 'undecided>0'");
    clashing->add_option("--junit", clashCall.junit, "write a report for build servers, one test case a test");
    clashing->callback([&] { code = clash(clashCall); });

    RunCall runCall;
    CLI::App* running = app.add_subcommand(
        "run", "What a build server does with a project: take in what waits, run the tests, keep and report the run");
    running->add_option("PROJECT", runCall.project, "a project folder")->required();
    running->add_option("--take-in", runCall.takeIn, "what of that waits: right, what stands right; all; or none")
        ->check(CLI::IsMember({"right", "all", "none"}));
    running->add_option("--as", runCall.person, "whose name stands beside what is done");
    running->add_option("--fail-on", runCall.failOn, "as with clash");
    running->add_option("--junit", runCall.junit, "as with clash");
    running->callback([&] { code = run(runCall); });

    CLI::App* compareCall = app.add_subcommand("compare", "What changed between two revisions");
    compareCall->add_option("OLD", first, "the earlier IFC file")->required();
    compareCall->add_option("NEW", second, "the later IFC file")->required();
    compareCall->add_option("--tolerance", tolerance, "metres up to which a place is the same")
        ->check(CLI::NonNegativeNumber);
    compareCall->callback([&] { code = compare(first, second, tolerance); });

    CLI::App* bcf = app.add_subcommand("bcf", "BCF files");
    bcf->require_subcommand(1);
    CLI::App* listCall = bcf->add_subcommand("list", "The topics of a BCF file");
    listCall->add_option("FILE", first, "the BCF file")->required();
    listCall->callback([&] { code = bcfList(first); });
    CLI::App* checkCall = bcf->add_subcommand("check", "What is wrong with a BCF file, entry by entry");
    checkCall->add_option("FILE", first, "the BCF file")->required();
    checkCall->callback([&] { code = bcfCheck(first); });
    CLI::App* convertCall = bcf->add_subcommand("convert", "Write a BCF file's topics in a version of the standard");
    convertCall->add_option("IN", first, "the BCF file")->required();
    convertCall->add_option("OUT", second, "the BCF file to write")->required();
    convertCall->add_option("--version", version, "the version to write, 2.1 or 3.0")
        ->required()
        ->check(CLI::IsMember({"2.1", "3.0"}));
    convertCall->callback([&] { code = bcfConvert(first, second, version); });
    CLI::App* mergeCall = bcf->add_subcommand("merge", "Bring two BCF files together, over what both came from");
    mergeCall->add_option("OURS", first, "the BCF file whose side is kept where both differ")->required();
    mergeCall->add_option("THEIRS", second, "the BCF file that came back")->required();
    mergeCall->add_option("OUT", third, "the BCF file to write")->required();
    mergeCall->add_option("--base", base, "the BCF file that was sent, which both came from");
    mergeCall->callback([&] { code = bcfMerge(first, second, base, third); });

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? kDone : kCallIsOff;
    } catch (const std::exception& error) {
        std::cerr << "wendrix-cli: internal failure: " << error.what() << '\n';
        return kInternal;
    }
    return code;
}
