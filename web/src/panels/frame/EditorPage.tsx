import { App, ConfigProvider, Modal, Result, Splitter } from "antd";
import { useEffect, useState } from "react";
import { flushSync } from "react-dom";

import { sentence, type View } from "../../api/client";
import { backToView, focusView } from "../../interaction/focus";
import { hearEverywhere } from "../../interaction/keys/hearEverywhere";
import { followOthers } from "../../interaction/session/others";
import { followSettings } from "../../interaction/session/settings";
import { accept } from "../../interaction/session/storing";
import { takeDrawing } from "../../interaction/curves/takeDrawing";
import { useAdding } from "../../model/session/adding";
import { isDrawing, isModel, useDropped } from "../../model/session/dropped";
import { beforeLeaving } from "../../model/session/leaving";
import { useStock } from "../../model/session/shelf";
import { useEditor } from "../../model/store";
import { useLaid } from "../../model/wrap/layout";
import { closeBuild, onMessage, openBuild } from "../../sync/build";
import { BoardDialog } from "../brief/BoardDialog";
import { BriefPanel } from "../brief/BriefPanel";
import { DrawingDialog } from "../incoming/DrawingDialog";
import { FindDialog } from "./FindDialog";
import { FormPanel } from "../form/FormPanel";
import { HandoverPanel } from "../handover/HandoverPanel";
import { HelpSheet } from "./HelpSheet";
import { ModelDialog } from "../incoming/ModelDialog";
import { NewPartForm } from "../form/NewPartForm";
import { PartsPanel } from "../parts/PartsPanel";
import { Rail } from "./Rail";
import { RecipePanel } from "../recipe/RecipePanel";
import { SquareView } from "../wrap/SquareView";
import { WrapPanel } from "../wrap/WrapPanel";
import { ShapePanel } from "../shape/ShapePanel";
import { KeepDialog } from "../stock/KeepDialog";
import { StockDialog } from "../stock/StockDialog";
import { TopBar } from "./TopBar";
import { ToolTray } from "../tray/ToolTray";
import { ViewHost } from "./ViewHost";

followSettings();
beforeLeaving(accept);

/** One build being worked on. */
export function EditorPage({ id, onHome }: { readonly id: string; readonly onHome: () => void }) {
  const { message } = App.useApp();
  const fetched = useEditor((s) => s.build !== null);
  const station = useEditor((s) => s.station);
  const alone = useLaid((l) => l.alone);
  const name = useEditor((s) => s.build?.name);
  const { model, drawing } = useDropped();
  const stock = useStock((s) => s.open);
  const keeping = useStock((s) => s.keeping);
  const [fault, setFault] = useState<string | null>(null);
  const [help, setHelp] = useState(false);
  const [finding, setFinding] = useState(false);
  const question = useEditor((s) => s.question);
  const adding = useAdding((s) => s.open);
  const [picture, setPicture] = useState<{ file: File; view: View } | null>(null);

  useEffect(() => {
    onMessage((text, way) => {
      const key = "told"; // one at a time, the newest
      const go = way === undefined ? null : <button type="button" className="link" onClick={() => { message.destroy(key); way.go(); focusView(); }}>{way.title}</button>;
      void message.warning({ key, content: <>{text} {go}</>, duration: way === undefined ? 6 : 12 });
    });
    setFault(null);
    openBuild(id).catch((error: unknown) => setFault(sentence(error)));
    const stop = followOthers();
    return () => {
      stop();
      message.destroy("told"); // what it offers is about the build that is left
      closeBuild();
      useLaid.setState({ alone: false, shows: "pieces" });
    };
  }, [id, message]);

  useEffect(() => {
    document.title = name ? `${name} · Rhytonic` : "Rhytonic";
  }, [name]);

  useEffect(hearEverywhere, []);

  useEffect(() => {
    const hear = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
      if (e.key === "?" && !typing) setHelp(true);
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "k") {
        e.preventDefault();
        flushSync(() => setFinding(true)); // what is typed right behind it is for the dialog
      }
    };
    window.addEventListener("keydown", hear);
    return () => window.removeEventListener("keydown", hear);
  }, []);

  if (fault !== null) return <Result status="warning" title="This build cannot be opened" subTitle={fault} extra={<button type="button" className="link" onClick={onHome}>All builds</button>} />;
  const open = (file: File, view?: View) => {
    if (isModel(file)) return useDropped.setState({ model: file });
    if (isDrawing(file)) return void takeDrawing(file);
    const shown = useEditor.getState().view;
    setPicture({ file, view: view ?? (shown === "perspective" ? "front" : shown) });
  };
  return (
    // a dialog gives the keys to the view by itself, never late to what had them before
    <ConfigProvider modal={{ focusable: { focusTriggerAfterClose: false } }}>
      <div className="editor">
        <h1 className="unsighted">{name ?? "A build"}</h1>
        <TopBar onHome={onHome} onFind={() => setFinding(true)} onHelp={() => setHelp(true)} />
        <Rail />
        <Splitter className="work">
          <Splitter.Panel defaultSize={247} min={200} max={420}>
            <div className="left">
              <PartsPanel onAdd={() => useAdding.setState({ open: true })} />
              <RecipePanel />
            </div>
          </Splitter.Panel>
          <Splitter.Panel>
            <main className="centre">
              <div className={station !== "wrap" ? "drawings" : alone ? "drawings alone" : "drawings both"}>
                <ViewHost onPicture={open} />
                {fetched && station === "wrap" && <SquareView />}
              </div>
              <ToolTray />
            </main>
          </Splitter.Panel>
          <Splitter.Panel defaultSize={258} min={220} max={420} collapsible>
            <aside className="right">
              {fetched && station === "brief" && <BriefPanel onPicture={(file) => open(file)} />}
              {fetched && station === "form" && <FormPanel />}
              {fetched && station === "shape" && <ShapePanel />}
              {fetched && station === "wrap" && <WrapPanel />}
              {fetched && station === "handover" && <HandoverPanel />}
            </aside>
          </Splitter.Panel>
        </Splitter>
        <FindDialog open={finding} onClose={() => { setFinding(false); setTimeout(backToView); }} />
        <HelpSheet open={help} onClose={() => { setHelp(false); setTimeout(backToView); }} />
        <Modal
          open={question !== null}
          title={question?.title}
          okText={question?.yes}
          cancelText={question?.no}
          okButtonProps={{ autoFocus: true }}
          closable={false}
          width={380}
          onOk={() => question?.answer(true)}
          onCancel={() => question?.answer(false)}
          afterClose={backToView}
        >
          {question?.message}
        </Modal>
        <Modal open={adding} onCancel={() => useAdding.setState({ open: false })} footer={null} title="New part" width={340} destroyOnHidden afterClose={backToView}>
          <NewPartForm onDone={() => useAdding.setState({ open: false })} />
        </Modal>
        {picture !== null && <BoardDialog file={picture.file} view={picture.view} onClose={() => { setPicture(null); setTimeout(backToView); }} />}
        {stock && <StockDialog />}
        {keeping !== null && <KeepDialog key={keeping} member={keeping} />}
        {drawing !== null && <DrawingDialog key={drawing.file.name + drawing.file.lastModified} drawing={drawing} onClose={() => { useDropped.setState({ drawing: null }); setTimeout(backToView); }} />}
        {model !== null && <ModelDialog key={model.name + model.lastModified} file={model} onClose={() => { useDropped.setState({ model: null }); setTimeout(backToView); }} />}
      </div>
    </ConfigProvider>
  );
}
