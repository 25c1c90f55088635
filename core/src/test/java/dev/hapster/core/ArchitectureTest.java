package dev.hapster.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;

@AnalyzeClasses(packages = "dev.hapster.core", importOptions = ImportOption.DoNotIncludeTests.class)
class ArchitectureTest {

    @ArchTest
    static final ArchRule findKnowsNoneOfTheOthers =
            knowsNone("find", "..read..", "..shape..", "..store..", "..run..", "..query..");

    @ArchTest
    static final ArchRule readKnowsNoneOfTheOthers =
            knowsNone("read", "..find..", "..shape..", "..store..", "..run..", "..query..");

    @ArchTest
    static final ArchRule shapeKnowsNoneOfTheOthers =
            knowsNone("shape", "..find..", "..read..", "..store..", "..run..", "..query..");

    @ArchTest
    static final ArchRule storeKnowsNoneOfTheOthers =
            knowsNone("store", "..find..", "..read..", "..shape..", "..run..", "..query..");

    @ArchTest
    static final ArchRule packagesFormNoCircle =
            slices().matching("dev.hapster.core.(*)..").should().beFreeOfCycles();

    @ArchTest
    static final ArchRule theCoreHasNoFrameworkAndNoInterface = noClasses()
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(
                    "io.quarkus..",
                    "jakarta..",
                    "org.hibernate..",
                    "picocli..",
                    "com.fasterxml.jackson.databind..",
                    "com.fasterxml.jackson.annotation..");

    private static ArchRule knowsNone(String one, String... others) {
        return noClasses()
                .that()
                .resideInAPackage("dev.hapster.core." + one + "..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(java.util.Arrays.stream(others)
                        .map(other -> "dev.hapster.core" + other.substring(1))
                        .toArray(String[]::new));
    }
}
