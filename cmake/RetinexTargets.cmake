# Helpers shared by all targets: one interface target with warnings and sanitizers, one function per kind.

add_library(retinex_warnings INTERFACE)
target_compile_options(retinex_warnings INTERFACE -Wall -Wextra -Wpedantic -Wshadow -Wnon-virtual-dtor
                                                  -Woverloaded-virtual)
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU") # in a unity build a .cpp is an included file
    target_compile_options(retinex_warnings INTERFACE -Wno-subobject-linkage)
endif()
if(RETINEX_WERROR)
    target_compile_options(retinex_warnings INTERFACE -Werror)
endif()
if(RETINEX_SANITIZE)
    target_compile_options(retinex_warnings INTERFACE -fsanitize=${RETINEX_SANITIZE} -fno-omit-frame-pointer)
    target_link_options(retinex_warnings INTERFACE -fsanitize=${RETINEX_SANITIZE})
endif()

# retinex_prepare(NAME source...): how a library's sources are compiled
function(retinex_prepare name)
    target_include_directories(${name} PUBLIC ${CMAKE_SOURCE_DIR}/src ${CMAKE_SOURCE_DIR})
    target_link_libraries(${name} PRIVATE retinex_warnings)
    # What moc reads does not wait for the libraries that are linked.
    set_target_properties(${name} PROPERTIES AUTOGEN_ORIGIN_DEPENDS OFF)
    # The sources of a folder are compiled as one: what they include is read once. Their unnamed namespaces are
    # one then, so that a helper's name is used once in a folder.
    set_target_properties(${name} PROPERTIES UNITY_BUILD ${RETINEX_UNITY} UNITY_BUILD_MODE GROUP)
    # What nearly all of them read is read once more rarely still.
    if(EXISTS ${CMAKE_SOURCE_DIR}/cmake/${name}_headers.h)
        target_precompile_headers(${name} PRIVATE ${CMAKE_SOURCE_DIR}/cmake/${name}_headers.h)
    endif()
    foreach(source ${ARGN})
        get_filename_component(folder ${source} DIRECTORY)
        string(MAKE_C_IDENTIFIER "folder_${folder}" group)
        set_source_files_properties(${source} PROPERTIES UNITY_GROUP ${group})
    endforeach()
endfunction()

# retinex_library(NAME ALIAS source...)
function(retinex_library name alias)
    add_library(${name} STATIC ${ARGN})
    add_library(${alias} ALIAS ${name})
    retinex_prepare(${name} ${ARGN})
endfunction()

# retinex_program(NAME source...)
function(retinex_program name)
    add_executable(${name} ${ARGN})
    target_link_libraries(${name} PRIVATE retinex_warnings)
endfunction()

# retinex_bench(NAME source...): what is timed is optimised in the libraries, the program itself waits for people
function(retinex_bench name)
    retinex_program(${name} ${ARGN})
    target_compile_options(${name} PRIVATE $<$<CONFIG:Release>:-O1>)
endfunction()
