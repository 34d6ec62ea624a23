//! `kalotype shape`: shapes of one's own of a drawing or a picture.

use super::build::write_whole;
use super::{LinesArgument, ShapeArguments, print, print_json, read_file};
use crate::service::{DrawingChoice, Drawn, Readers, ToneChoice, shape_file_name};
use anyhow::Context;
use kalotype_core::formats::MAX_PICTURE_BYTES;
use kalotype_core::halt::Halt;
use kalotype_core::shapes::{Division, LineUse};
use std::process::ExitCode;

/// Says what shapes a drawing makes, and writes them.
pub(super) fn run(arguments: &ShapeArguments) -> anyhow::Result<ExitCode> {
    let shown = arguments.file.display();
    let bytes = read_file(&arguments.file, MAX_PICTURE_BYTES)?;
    let choice = choice_of(arguments)?;
    // Whoever started it can stop it.
    let halt = Halt::default();
    let cannot = |error: crate::service::Trouble| anyhow::anyhow!("{shown}: {error}");
    let drawn = Drawn::open(&bytes, &Readers::Here, &halt).map_err(cannot)?;
    let report = serde_json::to_value(drawn.report(&choice, &halt).map_err(cannot)?)?;
    if arguments.json {
        print_json(&report)?;
    } else {
        tell(&report)?;
    }
    let Some(folder) = &arguments.out else { return Ok(ExitCode::SUCCESS) };
    let stem = arguments.file.file_stem().map(|stem| stem.to_string_lossy().into_owned());
    let name = arguments.name.clone().or(stem).unwrap_or_default();
    std::fs::create_dir_all(folder).with_context(|| format!("cannot make {}", folder.display()))?;
    for (name, shape) in drawn.shapes(&name, &choice, &halt).map_err(cannot)? {
        let file = folder.join(shape_file_name(&name));
        write_whole(&file, shape.document.write().as_ref())?;
        if !arguments.json {
            print(&format!("{}  {}\n", shape.document.id(), file.display()))?;
        }
    }
    Ok(ExitCode::SUCCESS)
}

fn choice_of(arguments: &ShapeArguments) -> anyhow::Result<DrawingChoice> {
    let layers = arguments.layers.as_ref().map(|layers| {
        let from_nought = layers.iter().map(|layer| match layer.checked_sub(1) {
            Some(place) => Ok(place.to_string()),
            None => Err(anyhow::anyhow!("Layers are counted from 1.")),
        });
        Ok::<_, anyhow::Error>(from_nought.collect::<Result<Vec<_>, _>>()?.join(","))
    });
    Ok(DrawingChoice {
        scale: arguments.scale,
        width: arguments.width,
        layers: layers.transpose()?,
        lines: arguments.lines.map(|lines| match lines {
            LinesArgument::Lines => LineUse::Lines,
            LinesArgument::Outlines => LineUse::Outlines,
        }),
        line_width: arguments.line_width,
        join: arguments.join,
        division: if arguments.by_layer { Division::ByLayer } else { Division::Together },
        tones: match arguments.colours {
            Some(_) => Some(ToneChoice::Colours),
            None if arguments.light => Some(ToneChoice::Light),
            None if arguments.apart => Some(ToneChoice::Apart),
            None => arguments.traced.then_some(ToneChoice::Dark),
        },
        threshold: arguments.threshold,
        colours: arguments.colours,
        smooth: arguments.smooth,
        corner: arguments.corner,
        speck: arguments.speck,
    })
}

/// The report in words.
fn tell(report: &serde_json::Value) -> anyhow::Result<()> {
    let text = |value: &serde_json::Value| value.as_str().unwrap_or_default().to_owned();
    let number = |value: &serde_json::Value| value.as_f64().unwrap_or_default();
    let sure = if report["is_stated"] == true { "" } else { " (the file states no unit)" };
    match report["size"].as_array().map(Vec::as_slice) {
        Some([width, height]) => print(&format!(
            "{}, {:.3} × {:.3} mm{sure}\n",
            text(&report["format"]),
            number(width),
            number(height)
        ))?,
        _ => print(&format!("{}\n", text(&report["format"])))?,
    }
    for (i, layer) in report["layers"].as_array().into_iter().flatten().enumerate() {
        print(&format!("  layer {}  {}, {} marks\n", i + 1, text(&layer["name"]), layer["marks"]))?;
    }
    for shape in report["shapes"].as_array().into_iter().flatten() {
        let [parts, openings] = [&shape["parts"], &shape["openings"]];
        print(&format!(
            "  {:.3} mm², parts {parts}, openings {openings}, {} points\n",
            number(&shape["area"]),
            shape["points"]
        ))?;
    }
    for remark in report["remarks"].as_array().into_iter().flatten() {
        print(&format!("{}\n", text(remark)))?;
    }
    if let Some(refusal) = report["refusal"].as_str() {
        print(&format!("{refusal}\n"))?;
    }
    Ok(())
}
