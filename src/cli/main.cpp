#include "cli/run.h"

int main(int argc, char** argv)
{
    return retinex::cli::run(argc, argv);
}
