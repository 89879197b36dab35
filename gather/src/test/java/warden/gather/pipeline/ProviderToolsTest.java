package warden.gather.pipeline;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import warden.core.pipeline.CredentialUse;
import warden.core.pipeline.CredentialUse.Kind;
import warden.core.pipeline.DeploymentStep;
import warden.core.pipeline.Operation;
import warden.core.pipeline.Pipeline;
import warden.core.pipeline.PipelineText;
import warden.core.pipeline.PipelineValue;
import warden.core.pipeline.Target;
import warden.gather.pipeline.PowerShellReader.Statement;

/** A provider's tools are understood when its list of them is handed to the reader; without it, they are not known. */
class ProviderToolsTest {
    /** A provider whose one program lays files on a shelf. */
    private static final class ShelfTools implements ProviderTools {
        @Override
        public Set<String> programs() {
            return Set.of("shelf");
        }

        @Override
        public boolean command(String program, List<PipelineValue> arguments, ToolCall call) {
            if (!arguments.get(0).text().equals("lay")) {
                return false;
            }
            call.add(upload(arguments.get(1), arguments.get(2)), call.here().credential(), "shelf");
            return true;
        }

        private static Operation upload(PipelineValue source, PipelineValue target) {
            return StorageClients.upload(
                    source, Target.ofPath(target), true, false, false, Optional.empty(), Optional.empty(), List.of());
        }

        @Override
        public Map<String, ContainerImage> images() {
            return Map.of("shelf-cli", new ContainerImage("shelf", "/work"));
        }

        @Override
        public Optional<CredentialUse> credential(Scope variables) {
            return variables
                    .variable("SHELF_KEY")
                    .map(key -> new CredentialUse(Kind.STORE_KEY, key, Optional.empty(), 1));
        }

        @Override
        public boolean keepsState(Map<String, PipelineValue> backend, ToolCall call) {
            if (!backend.containsKey("shelf")) {
                return false;
            }
            call.add(new Operation.KeepState(Target.ofPath(backend.get("shelf"))), Optional.empty(), "shelf");
            return true;
        }

        @Override
        public Optional<Cmdlets> cmdlets(PowerShellWords words, JobContext job) {
            return Optional.of(new Cmdlets() {
                @Override
                public boolean isOne(String name) {
                    return name.endsWith("-shelf");
                }

                @Override
                public boolean mayStandIn(String text) {
                    return text.contains("-Shelf");
                }

                @Override
                public void call(Statement statement, Optional<Statement> before) {
                    job.add(
                            upload(
                                    PipelineValue.of("."),
                                    words.find(PowerShellWords.parameters(statement.words()), "to")
                                            .orElseThrow()),
                            statement.line(),
                            statement.spelled());
                }
            });
        }

        @Override
        public boolean workflowStep(WorkflowStep step) {
            if (!step.name().equals("shelf/lay")) {
                return false;
            }
            step.addReusable();
            step.add(upload(PipelineValue.of("."), step.input("to")));
            return true;
        }

        @Override
        public boolean serverStep(ServerStep step) {
            if (step.name().equals("withShelf")) {
                step.inside().use(new CredentialUse(Kind.STORE_KEY, step.value("key"), Optional.empty(), step.line()));
                return true;
            }
            return false;
        }

        @Override
        public Optional<Pipeline> pipeline(Yaml root, PipelineText text, JobContext begin) {
            Optional<Yaml> lines = root.find("shelving");
            lines.ifPresent(script -> new Commands(begin).script(script.text(), script.textLine()));
            return lines.map(script -> new Pipeline(
                    text.path(), Pipeline.Kind.OTHER, text, Optional.empty(), List.of(), List.of(), begin.steps()));
        }
    }

    private static final PipelineReader KNOWING = new PipelineReader(List.of(new ShelfTools()));
    private static final PipelineReader IGNORANT = new PipelineReader(List.of());

    private static List<String> uploads(PipelineReader reader, String name, String... lines) {
        return reader.parse(PipelineText.ofFile(name, String.join("\n", lines)), Map.of()).steps().stream()
                .filter(step -> step.operation() instanceof Operation.Upload)
                .map(ProviderToolsTest::spelled)
                .toList();
    }

    private static String spelled(DeploymentStep step) {
        Operation.Upload upload = (Operation.Upload) step.operation();
        return upload.source().text() + " to " + upload.target().bucket().text()
                + step.credential().map(use -> " by " + use.name().text()).orElse("")
                + (step.provider().isEmpty() ? "" : " with " + step.provider());
    }

    @Test
    void readsItsProgramWhereverAScriptStands() {
        assertThat(uploads(KNOWING, "lay.sh", "SHELF_KEY=k sudo ./bin/shelf lay site top"))
                .containsExactly("site to top by k with shelf");
        assertThat(uploads(KNOWING, "lay.ps1", "shelf lay site top")).containsExactly("site to top with shelf");
        assertThat(uploads(KNOWING, "lay.yml", "shelving: |", "  shelf lay site top"))
                .containsExactly("site to top with shelf");
        assertThat(uploads(KNOWING, "lay.sh", "docker run -v $PWD/out:/work shelf-cli:2 lay . top"))
                .containsExactly("out to top with shelf");
        assertThat(
                        uploads(
                                KNOWING,
                                "Jenkinsfile",
                                "pipeline { stages { stage('s') { steps { withShelf(key: 'k') { sh 'shelf lay site top' } } } } }"))
                .containsExactly("site to top by k with shelf");
    }

    @Test
    void readsItsCmdletsAndItsSteps() {
        assertThat(uploads(KNOWING, "lay.ps1", "$place = 'top'", "Lay-Shelf -To $place"))
                .containsExactly(". to top");
        assertThat(uploads(KNOWING, "lay.ps1", "if (Lay-Shelf -To top) {", "}")).containsExactly(". to top");
        assertThat(uploads(
                        KNOWING,
                        "lay.yml",
                        "on: push",
                        "jobs:",
                        "  lay:",
                        "    steps:",
                        "      - uses: shelf/lay@v1",
                        "        with: {to: top}"))
                .containsExactly(". to top");
    }

    @Test
    void tellsWhereStateIsKept() {
        Pipeline pipeline = KNOWING.parse(
                PipelineText.ofFile("lay.sh", "terraform init -backend-config=shelf=bottom/left"), Map.of());
        assertThat(pipeline.steps()).singleElement().satisfies(step -> {
            assertThat(step.provider()).isEqualTo("shelf");
            assertThat(step.operation()).isInstanceOf(Operation.KeepState.class);
        });
    }

    @Test
    void understandsNothingOfItWithoutItsTools() {
        assertThat(IGNORANT.parse(PipelineText.ofFile("lay.sh", "shelf lay site top"), Map.of())
                        .notUnderstood())
                .hasSize(1);
        assertThat(IGNORANT.parse(PipelineText.ofFile("lay.sh", "docker run shelf-cli lay . top"), Map.of())
                        .notUnderstood())
                .hasSize(1);
        assertThat(IGNORANT.parse(PipelineText.ofFile("lay.ps1", "Lay-Shelf -To top"), Map.of())
                        .notUnderstood())
                .hasSize(1);
        // What it does with each name is known to the running pipeline alone.
        assertThat(KNOWING.parse(PipelineText.ofFile("lay.sh", "ls | xargs shelf lay"), Map.of())
                        .notUnderstood())
                .hasSize(1);
        assertThat(IGNORANT.parse(PipelineText.ofFile("lay.yml", "shelving: ls"), Map.of())
                        .problem())
                .isPresent();
    }
}
