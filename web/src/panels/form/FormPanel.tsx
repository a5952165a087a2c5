import { NewPartForm } from "./NewPartForm";
import { MemberFields } from "../together/MemberFields";
import { TogetherFields } from "../together/TogetherFields";

/** New parts, and where what is chosen stands in the build. */
export function FormPanel() {
  return (
    <section aria-label="Form">
      <h2>New part</h2>
      <NewPartForm />
      <TogetherFields />
      <MemberFields />
    </section>
  );
}
