package warden.report;

import java.util.List;
import warden.core.access.Extent;
import warden.core.access.Matrix;
import warden.core.access.Matrix.Row;

/** The matrix of actors and abilities as JSON, after {@code docs/schema/matrix.schema.json}. */
public final class MatrixJson {
    private MatrixJson() {}

    /** Returns the document. */
    public static String of(List<Matrix> tables) {
        return Json.document(json -> json.objects("buckets", tables, table -> json.text("bucket", table.store())
                .objects("actors", table.allRows(), row -> row(json, row))));
    }

    private static void row(Json json, Row row) {
        json.text("who", row.who());
        json.object("abilities", () -> row.abilities()
                .forEach((ability, extent) -> json.object(ability.word(), () -> extent(json, extent))));
    }

    private static void extent(Json json, Extent extent) {
        json.text("extent", extent.kind().word());
        switch (extent.kind()) {
            case ALL, SOME ->
                json.texts("which", extent.which()).witness(extent.witness()).because(extent.because());
            case UNKNOWN -> json.text("why", extent.why());
            case NONE -> {}
        }
        if (extent.mayBeWider()) {
            json.truth("atLeast", true).text("why", extent.why());
        }
        if (!extent.needs().isEmpty()) {
            json.objects("needs", extent.needs(), need -> json.text("aspect", need.aspect())
                    .text("of", need.of())
                    .text("why", need.why())
                    .text("permission", need.permission()));
        }
    }
}
