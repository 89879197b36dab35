package warden.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.domain.JavaModifier;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.util.HashSet;
import java.util.Locale;
import java.util.Set;
import org.junit.jupiter.api.Test;
import warden.core.audit.Check;
import warden.core.provider.Provider;

class ArchitectureTest {
    private static final JavaClasses CODE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("warden.core");

    @Test
    void theCoreKnowsNoInterfaceAndNoWorld() {
        classes()
                .should()
                .onlyDependOnClassesThat()
                .resideInAnyPackage(
                        "java.lang..",
                        "java.util..",
                        "java.math..",
                        "java.time..",
                        "java.io..",
                        "java.nio..",
                        "java.net..",
                        "java.security..",
                        "org.jspecify..",
                        "tools.jackson..",
                        "warden.core..")
                .because("the core is tested on its own, without files, network, screen or clock")
                .check(CODE);
        noClasses()
                .should()
                .accessClassesThat()
                .haveFullyQualifiedName("java.nio.file.Files")
                .because("the core opens no files")
                .check(CODE);
    }

    @Test
    void jsonIsReadInOneRoom() {
        noClasses()
                .that()
                .resideOutsideOfPackages("..document..", "..survey..", "..access..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("tools.jackson..")
                .because(
                        "everybody else works on parts that know where they stood; questions are lines of JSON in and out")
                .check(CODE);
    }

    @Test
    void checksJudgeWhatWasReadAndReadNothing() {
        noClasses()
                .that()
                .resideInAPackage("..checks..")
                .should()
                .dependOnClassesThat()
                .haveFullyQualifiedName("warden.core.survey.SurveyReader")
                .because("a check must give the same verdict on a saved reading as on a live one")
                .check(CODE);
    }

    @Test
    void roomsHaveNoCycles() {
        slices().matching("warden.core.(*)..").should().beFreeOfCycles().check(CODE);
        for (Provider provider : Providers.ALL) {
            // The adapter's own room ties the others together.
            slices().matching("warden.core." + provider.name() + ".(*)..")
                    .should()
                    .beFreeOfCycles()
                    .check(CODE);
        }
    }

    @Test
    void whatIsSaidOfEverySiteKnowsNoProvider() {
        String[] houses = Providers.ALL.stream()
                .map(provider -> "warden.core." + provider.name() + "..")
                .toArray(String[]::new);
        noClasses()
                .that()
                .resideOutsideOfPackages(houses)
                .and()
                .resideOutsideOfPackage("warden.core")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(houses)
                .because("a second provider stands beside the first, and another may follow")
                .check(CODE);
    }

    @Test
    void noProviderReadsAnother() {
        for (Provider provider : Providers.ALL) {
            String[] others = Providers.ALL.stream()
                    .filter(other -> other != provider)
                    .map(other -> "warden.core." + other.name() + "..")
                    .toArray(String[]::new);
            if (others.length > 0) {
                noClasses()
                        .that()
                        .resideInAPackage("warden.core." + provider.name() + "..")
                        .should()
                        .dependOnClassesThat()
                        .resideInAnyPackage(others)
                        .check(CODE);
            }
        }
    }

    @Test
    void nobodyPrintsOrReadsTheClock() {
        noClasses()
                .should()
                .accessField(System.class, "out")
                .orShould()
                .accessField(System.class, "err")
                .orShould()
                .callMethod(java.time.Instant.class, "now")
                .orShould()
                .callMethod(System.class, "currentTimeMillis")
                .orShould()
                .callMethod(java.time.ZoneId.class, "systemDefault")
                .because("same input and --at, same bytes")
                .check(CODE);
    }

    @Test
    void noPackageIsADrawer() {
        noClasses()
                .should()
                .resideInAnyPackage(
                        "..util..", "..utils..", "..helper..", "..manager..", "..impl..", "..common..", "..misc..")
                .check(CODE);
    }

    @Test
    void everyCheckIsFinalStandsInTheCatalogueOnceAndIsNamedLikeItsId() {
        Set<String> classesInCatalogue = new HashSet<>();
        for (Check check : CheckCatalogue.asked()) {
            String name = check.getClass().getSimpleName();
            String id = name.replaceAll("([a-z0-9])([A-Z])", "$1-$2").toLowerCase(Locale.ROOT);
            assertThat(check.card().id()).isEqualTo(id);
            assertThat(classesInCatalogue.add(check.getClass().getName()))
                    .as(name)
                    .isTrue();
        }
        CODE.stream()
                .filter(type -> type.isAssignableTo(Check.class) && !type.isInterface())
                .forEach(type -> {
                    assertThat(type.getModifiers()).as(type.getName()).contains(JavaModifier.FINAL);
                    assertThat(classesInCatalogue).contains(type.getName());
                });
    }
}
