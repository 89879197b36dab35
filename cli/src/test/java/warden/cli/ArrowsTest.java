package warden.cli;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import org.junit.jupiter.api.Test;

/** The arrows between the modules. */
class ArrowsTest {
    private static final JavaClasses CODE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("warden");

    @Test
    void theCoreKnowsNobody() {
        noClasses()
                .that()
                .resideInAPackage("warden.core..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("warden.gather..", "warden.standin..", "warden.report..", "warden.cli..")
                .check(CODE);
    }

    @Test
    void readersSimulatorsAndReportsDoNotKnowEachOther() {
        String[] rooms = {"warden.gather..", "warden.standin..", "warden.report..", "warden.cli.."};
        for (String room : new String[] {rooms[0], rooms[1], rooms[2]}) {
            String[] others = java.util.Arrays.stream(rooms)
                    .filter(each -> !each.equals(room))
                    .toArray(String[]::new);
            noClasses()
                    .that()
                    .resideInAPackage(room)
                    .should()
                    .dependOnClassesThat()
                    .resideInAnyPackage(others)
                    .check(CODE);
        }
    }

    @Test
    void onlyTheCommandLineKnowsItsParser() {
        noClasses()
                .that()
                .resideOutsideOfPackage("warden.cli..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("picocli..")
                .check(CODE);
    }

    @Test
    void onlyReadersAndSimulatorsKnowTheProvidersLibrary() {
        noClasses()
                .that()
                .resideOutsideOfPackages("warden.gather.aws..", "warden.standin.aws..")
                .should()
                .dependOnClassesThat()
                .resideInAPackage("software.amazon..")
                .check(CODE);
    }

    /** What is one provider's reads no other's, in the readers and the simulators too. */
    @Test
    void noHouseKnowsAnother() {
        for (String[] pair : new String[][] {{"aws", "azure"}, {"azure", "aws"}}) {
            noClasses()
                    .that()
                    .resideInAnyPackage(
                            "warden.gather." + pair[0] + "..",
                            "warden.standin." + pair[0] + "..",
                            "warden.report." + pair[0] + "..")
                    .should()
                    .dependOnClassesThat()
                    .resideInAnyPackage(
                            "warden.gather." + pair[1] + "..",
                            "warden.standin." + pair[1] + "..",
                            "warden.core." + pair[1] + "..")
                    .check(CODE);
        }
        noClasses()
                .that()
                .resideInAnyPackage("warden.standin", "warden.gather..", "warden.report..")
                .and()
                .resideOutsideOfPackages(
                        "warden.gather.aws..", "warden.gather.azure..", "warden.report.aws..", "warden.report.azure..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "warden.core.aws..",
                        "warden.core.azure..",
                        "warden.gather.aws..",
                        "warden.gather.azure..",
                        "warden.standin.aws..",
                        "warden.standin.azure..")
                .check(CODE);
    }
}
