import HubOutlined from "@mui/icons-material/HubOutlined";
import { Box, Button, Dialog, DialogTitle, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { schedulerWords } from "../model/jobWords";
import type { JobActions, Jobs } from "./useQueue";

/** Who makes the jobs, and the choice of others. */
export function WhereMade({ told, actions }: { told: Jobs; actions: JobActions }) {
  const [open, setOpen] = useState(false);
  const [address, setAddress] = useState(told.scheduler ?? "");
  const choose = (wanted: string | null) => {
    actions.choose(wanted);
    setOpen(false);
  };
  return (
    <>
      <Button startIcon={<HubOutlined />} onClick={() => setOpen(true)}>
        {schedulerWords(told)}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} maxWidth="xs" fullWidth>
        <DialogTitle sx={{ typography: "h2", pb: 1 }}>Where it is made</DialogTitle>
        <Box
          component="form"
          sx={{ px: 3, pb: 2.5 }}
          onSubmit={(e) => {
            e.preventDefault();
            choose(address.trim());
          }}
        >
          <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
            By processes of this machine, or by all that have joined a Dask scheduler with{" "}
            <code>zygomorph worker ADDRESS</code>. What is being made is begun again there; finished
            frames stay.
          </Typography>
          <TextField
            fullWidth
            size="small"
            label="Address of a scheduler"
            placeholder="tcp://10.0.0.5:8786"
            value={address}
            onChange={(e) => setAddress(e.target.value)}
          />
          <Box sx={{ display: "flex", justifyContent: "flex-end", gap: 1, mt: 2 }}>
            <Button onClick={() => choose(null)} disabled={told.scheduler === null}>
              This machine
            </Button>
            <Button variant="contained" type="submit" disabled={!address.trim()}>
              Use this cluster
            </Button>
          </Box>
        </Box>
      </Dialog>
    </>
  );
}
