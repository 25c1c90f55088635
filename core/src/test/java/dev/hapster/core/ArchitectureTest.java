package dev.hapster.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import java.util.Map;
import java.util.stream.Collectors;

@AnalyzeClasses(packages = "dev.hapster.core", importOptions = ImportOption.DoNotIncludeTests.class)
class ArchitectureTest {

    private static final long MOST_FILES = 16;

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
    static final ArchRule nothingBelowARunKnowsWhoRunsIt = noClasses()
            .that()
            .resideInAnyPackage("dev.hapster.core.run.*..")
            .should()
            .dependOnClassesThat()
            .resideInAPackage("dev.hapster.core.run");

    @ArchTest
    static final ArchRule thePackagesOfRunsFormNoCircle =
            slices().matching("dev.hapster.core.run.(*)..").should().beFreeOfCycles();

    @ArchTest
    static final ArchRule thePackagesOfReadingFormNoCircle =
            slices().matching("dev.hapster.core.read.(*)..").should().beFreeOfCycles();

    @ArchTest
    static final ArchRule thePackagesOfDefinitionsFormNoCircle =
            slices().matching("dev.hapster.core.definition.(*)..").should().beFreeOfCycles();

    @ArchTest
    static final ArchRule whatAKeyIsKnowsNoKeys = noClasses()
            .that()
            .resideInAnyPackage("dev.hapster.core.definition.key..", "dev.hapster.core.definition.yaml..")
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(
                    "dev.hapster.core.definition",
                    "dev.hapster.core.definition.read..",
                    "dev.hapster.core.definition.section..",
                    "dev.hapster.core.definition.parse..");

    @ArchTest
    static final ArchRule theCatalogueKnowsNothingOfRuns =
            knowsNone("catalogue", "..run..", "..read..", "..shape..", "..store..", "..query..");

    /** The tree is the table of contents: a package that holds more says too little. */
    @ArchTest
    static void noPackageIsLong(JavaClasses all) {
        Map<String, Long> files = all.stream()
                .filter(JavaClass::isTopLevelClass)
                .collect(Collectors.groupingBy(JavaClass::getPackageName, Collectors.counting()));
        assertThat(files).allSatisfy((name, count) -> assertThat(count).as(name).isLessThanOrEqualTo(MOST_FILES));
    }

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
